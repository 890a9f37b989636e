import { channelsOf, type Shot } from '../document';
import type { Expression } from '../formula';
import { readsOfLink, readsOfPlace, type Reads } from './reads';

/** Everything that one value depends on. */
export class Needs {
  readonly addresses = new Set<string>();
  readonly parts = new Set<string>();

  /**
   * @param expressionOf formula in force of a channel, or `null`
   * @param ownOnly stop at the first channel's own value, without its link
   * @param probing follow what is read at other moments too
   */
  constructor(
    private readonly shot: Shot,
    private readonly expressionOf: (address: string) => Expression | null,
    private ownOnly: boolean,
    private readonly probing = false,
  ) {}

  channel(address: string): void {
    if (this.addresses.has(address)) return;
    this.addresses.add(address);
    const skip = this.ownOnly;
    this.ownOnly = false;
    const expression = skip ? null : this.expressionOf(address);
    if (expression) this.all(readsOfLink(this.shot, expression));
  }

  private place(id: string): void {
    if (!this.shot.parts[id] || this.parts.has(id)) return;
    this.parts.add(id);
    for (const spec of channelsOf(this.shot, id)) this.channel(`${id}/${spec.path}`);
    const reads = readsOfPlace(this.shot, id);
    for (const owner of reads.owners) for (const path of owner.paths) this.channel(`${owner.id}/${path}`);
    this.all(reads);
  }

  private all({ channels, then, places }: Reads): void {
    for (const address of channels) this.channel(address);
    if (this.probing) for (const address of then) this.channel(address);
    for (const id of places) this.place(id);
  }
}
