import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Shot } from '../../../../core/document';
import { compile, type LoudnessTables, type Plan } from '../../../../core/evaluate';
import { insetsOf, type ShotLibrary } from '../../../../core/inset';
import type { KeptChange, OpenedShot } from '../../../../wire';

const LOOK_MS = 3000;

/** What is known of a shot that is shown in the open one. */
export interface KnownShot {
  readonly name: string | null;
  readonly revision: number;
  readonly shot: Shot | null;
  /** Why it cannot be shown. */
  readonly failed: string | null;
}

const UNKNOWN: KnownShot = { name: null, revision: 0, shot: null, failed: null };

/** Where other shots come from. */
export interface ShotDoor {
  shot(id: string): Promise<OpenedShot>;
  changesSince(id: string, revision: number): Promise<readonly KeptChange[]>;
}

/** The shots that the open one shows, and those that they show, as they are now: whoever changes one is followed. */
export class Insets implements ShotLibrary {
  readonly store: StoreApi<Readonly<Record<string, KnownShot>>> = createStore(() => ({}));
  private readonly plans = new Map<string, { shot: Shot; tables: LoudnessTables; plan: Plan }>();
  private readonly loading = new Set<string>();
  private looking: ReturnType<typeof setInterval> | undefined;
  private closed = false;

  /** @param tables loudness of a shot's sounds, as far as it is known */
  constructor(
    private readonly door: ShotDoor,
    private readonly tables: (shot: Shot) => LoudnessTables,
  ) {}

  /** Asks for what is not known yet of the shots that a shot shows. */
  follow(shot: Shot): void {
    this.followAll(insetsOf(shot));
  }

  /** Asks for what is not known yet of shots. */
  followAll(ids: readonly string[]): void {
    for (const id of ids) if (!this.store.getState()[id]) void this.load(id);
    if (Object.keys(this.store.getState()).length > 0 || this.loading.size > 0)
      this.looking ??= setInterval(() => void this.look(), LOOK_MS);
  }

  shotOf(id: string): Shot | null {
    return this.of(id).shot;
  }

  of(id: string): KnownShot {
    return this.store.getState()[id] ?? UNKNOWN;
  }

  /** The plan of a shot that is known. */
  readonly planOf = (id: string): Plan | null => {
    const { shot } = this.of(id);
    if (!shot) return null;
    const tables = this.tables(shot);
    const made = this.plans.get(id);
    const same =
      made?.shot === shot && Object.keys(shot.sounds).every((sound) => made.tables[sound] === tables[sound]);
    if (same) return made.plan;
    const plan = compile(shot, tables, made?.plan);
    this.plans.set(id, { shot, tables, plan });
    return plan;
  };

  /** Reads a shot, for whoever wants to know what it would bring. @throws when it cannot be had */
  async load(id: string): Promise<void> {
    if (this.loading.has(id)) return;
    this.loading.add(id);
    try {
      const opened = await this.door.shot(id);
      if (this.closed) return;
      const { name, revision, document: shot } = opened;
      this.store.setState({ [id]: { name, revision, shot, failed: null } });
      this.follow(shot);
    } catch (error) {
      const failed = error instanceof Error ? error.message : String(error);
      // What was had before is shown on.
      this.store.setState({ [id]: { ...this.of(id), failed } });
    } finally {
      this.loading.delete(id);
    }
  }

  /** Looks whether anybody has changed them. */
  private async look(): Promise<void> {
    if (typeof document !== 'undefined' && document.hidden) return;
    for (const [id, { revision, shot }] of Object.entries(this.store.getState())) {
      if (this.closed) return;
      if (!shot) {
        await this.load(id);
        continue;
      }
      const changes = await this.door.changesSince(id, revision).catch(() => null);
      if (changes && changes.length > 0) await this.load(id);
    }
  }

  close(): void {
    this.closed = true;
    clearInterval(this.looking);
  }
}
