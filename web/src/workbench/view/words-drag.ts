import { toast } from 'sonner';
import { linkOf, type Value } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import { choose } from '../actions/choosing';
import { stop } from '../actions/time';
import { preview, setChannels } from '../actions/values';
import type { Session } from '../session';

const FINER = 0.1;
const PLACES = 4;

/** One drag of the words of a callout: they follow the pointer while the point stays where it is. */
export class WordsDrag {
  private readonly start: readonly [number, number];
  private readonly linked: string | undefined;
  private at: [number, number];

  constructor(
    private readonly session: Session,
    private readonly id: string,
  ) {
    stop(session);
    const { shot, evaluator } = session;
    this.linked = this.addresses.find((address) => linkOf(shot, address));
    this.start = this.addresses.map((address) => evaluator.number(address)) as [number, number];
    this.at = [...this.start];
  }

  private get addresses(): readonly [string, string] {
    return [`${this.id}/words.x`, `${this.id}/words.y`];
  }

  /**
   * Moves the words on.
   * @param dx pixels to the right
   * @param dy pixels down
   * @param height of the picture, pixels
   * @param fine a tenth of the way
   */
  move(dx: number, dy: number, height: number, fine: boolean): void {
    if (this.linked !== undefined) return;
    const share = (fine ? FINER : 1) / Math.max(1, height);
    this.at = [this.at[0] + dx * share, this.at[1] - dy * share];
    preview(this.session, Object.fromEntries(this.values));
  }

  private get values(): [string, Value][] {
    return this.addresses.map((address, i) => [address, Number(this.at[i]!.toFixed(PLACES)) + 0]);
  }

  /** Keeps where the words are, as one edit, or puts them back. */
  end(keep: boolean): void {
    preview(this.session, null);
    if (!keep) return;
    choose(this.session, [this.id]);
    if (this.linked === undefined) setChannels(this.session, this.values);
    else
      toast.error(`${channelName(this.session.shot, this.linked)} is linked: the words cannot be dragged.`);
  }
}
