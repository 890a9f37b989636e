import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Shot } from '../../../../core/document';
import { BAND_EDGES, firstLook, FLUX_RATE, LOUDNESS_RATE, type Flux } from '../../../../core/sound';
import type { Loudness, LoudnessTables } from '../../../../core/evaluate';
import { SOUND_READ_RATE, type SoundFacts, type SoundTable } from '../../../../wire';

const ASK_AGAIN_MS = 1000;
/** Tries after a failed answer before it is given up. */
const TRIES = 20;

/** What is known of a file of sound. */
export interface KnownSound {
  readonly facts: SoundFacts | null;
  readonly peaks: Int8Array | null;
  readonly flux: Flux | null;
  readonly loudness: Loudness | null;
  /** Why nothing is known. */
  readonly failed: string | null;
}

const NOTHING: KnownSound = { facts: null, peaks: null, flux: null, loudness: null, failed: null };

/** Where sounds come from. */
export interface SoundDoor {
  facts(hash: string): Promise<SoundFacts>;
  table(hash: string, table: SoundTable): Promise<ArrayBuffer>;
}

/** The files of sound of a shot, and what was worked out of them, by their hashes. */
export class Sounds {
  readonly store: StoreApi<Readonly<Record<string, KnownSound>>> = createStore(() => ({}));
  private closed = false;

  /** @param heard is told the tables of loudness of a shot's sounds whenever one has come */
  constructor(
    private readonly door: SoundDoor,
    private readonly shotNow: () => Shot,
    private readonly heard: (tables: LoudnessTables) => void,
  ) {}

  /** Asks for what is not known yet of a shot's sounds. */
  follow(shot: Shot): void {
    for (const { asset } of Object.values(shot.sounds))
      if (asset && !this.store.getState()[asset]) {
        this.know(asset, {});
        void this.load(asset);
      }
  }

  of(asset: string | undefined): KnownSound {
    return (asset !== undefined && this.store.getState()[asset]) || NOTHING;
  }

  close(): void {
    this.closed = true;
  }

  /** Tables of loudness by the ids of a shot's sounds. */
  tables(shot: Shot): LoudnessTables {
    return Object.fromEntries(
      Object.entries(shot.sounds).flatMap(([id, { asset }]): [string, Loudness][] => {
        const { loudness } = this.of(asset);
        return loudness ? [[id, loudness]] : [];
      }),
    );
  }

  private know(asset: string, more: Partial<KnownSound>): void {
    this.store.setState({ [asset]: { ...this.of(asset), ...more } });
  }

  private async load(asset: string): Promise<void> {
    for (let tries = 0; tries < TRIES && !this.closed;) {
      try {
        const facts = await this.door.facts(asset);
        this.know(asset, {
          facts,
          failed: facts.state === 'broken' ? (facts.reason ?? 'It is broken.') : null,
        });
        if (facts.state === 'broken') return;
        if (facts.state === 'ready') {
          await this.take(asset, facts);
          return;
        }
      } catch (error) {
        tries++;
        this.know(asset, { failed: error instanceof Error ? error.message : String(error) });
      }
      await new Promise((again) => setTimeout(again, ASK_AGAIN_MS));
    }
  }

  private async take(asset: string, facts: SoundFacts): Promise<void> {
    const [peaks, loudness, flux] = await Promise.all(
      (['peaks', 'loudness', 'flux'] as const).map((table) => this.door.table(asset, table)),
    );
    this.know(asset, {
      failed: null,
      peaks: new Int8Array(peaks!),
      loudness: {
        rate: LOUDNESS_RATE,
        edges: BAND_EDGES,
        seconds: facts.seconds,
        power: new Float32Array(loudness!),
      },
      flux: {
        values: Float64Array.from(new Float32Array(flux!)),
        first: firstLook(SOUND_READ_RATE),
        step: 1 / FLUX_RATE,
        struck: facts.struck === true,
      },
    });
    if (!this.closed) this.heard(this.tables(this.shotNow()));
  }
}
