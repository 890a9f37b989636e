import { z } from 'zod';
import {
  CUT,
  emptyReel,
  fitted,
  reelFrames,
  reelSchema,
  reelSoundSchema,
  reelTrouble,
  titleItemSchema,
  type Join,
  type Reel,
  type ReelItem,
  type ReelSound,
  type TitleItem,
} from '../reel';
import { COMMON_RATES, framesPerSecond, type Rate } from '../time';

/*
 * OpenTimelineIO JSON, after its published serialized schemas: Timeline.1, Stack.1, Track.1, Clip.2 (Clip.1 is read,
 * too), Gap.1, Transition.1, RationalTime.1, TimeRange.1 and the media references. What only a reel knows stands in the
 * metadata under "whirl", as the format asks programs to do.
 */

/** A shot as far as a timeline tells of it. */
export interface TimelineShot {
  readonly name: string;
  readonly rate: Rate;
  readonly first: number;
  readonly last: number;
}

const time = (value: number, rate: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate, value });
const stretch = (start: unknown, duration: unknown) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  duration,
  start_time: start,
});
const composed = (schema: string, name: string, children: unknown[], more: object = {}) => ({
  OTIO_SCHEMA: schema,
  children,
  effects: [],
  enabled: true,
  markers: [],
  metadata: {},
  name,
  source_range: null,
  ...more,
});
const clip = (name: string, range: unknown, media: object, whirl: object) => ({
  OTIO_SCHEMA: 'Clip.2',
  active_media_reference_key: 'DEFAULT_MEDIA',
  effects: [],
  enabled: true,
  markers: [],
  media_references: {
    DEFAULT_MEDIA: { available_image_bounds: null, available_range: null, metadata: {}, name: '', ...media },
  },
  metadata: { whirl },
  name,
  source_range: range,
});

const textOf = ({ lines }: TitleItem): string => lines.map(({ text }) => text.text).join('\n');

/**
 * A reel as OpenTimelineIO JSON. Shots refer to films of their own names beside the timeline.
 * @param shotOf what is known of a shot, or `null`
 */
export function writeOtio(reel: Reel, name: string, shotOf: (id: string) => TimelineShot | null): string {
  const rate = framesPerSecond(reel.rate);
  const children = reel.items.flatMap((item, at): object[] => {
    const entries: object[] = [];
    const { manner, frames, from } = item.join;
    if (manner !== 'cut') {
      const before = at === 0 ? 0 : Math.floor(frames / 2);
      entries.push({
        OTIO_SCHEMA: 'Transition.1',
        in_offset: time(before, rate),
        metadata: { whirl: { manner, from } },
        name: manner,
        out_offset: time(frames - before, rate),
        transition_type: manner === 'dissolve' ? 'SMPTE_Dissolve' : 'Custom_Transition',
      });
    }
    entries.push(item.kind === 'shot' ? shotClip(item, reel, shotOf(item.shot)) : titleClip(item, rate));
    return entries;
  });
  return `${JSON.stringify(
    {
      OTIO_SCHEMA: 'Timeline.1',
      global_start_time: time(0, rate),
      metadata: { whirl: { rate: reel.rate, width: reel.width, height: reel.height } },
      name,
      tracks: composed('Stack.1', 'tracks', [
        composed('Track.1', 'Shots', children, { kind: 'Video' }),
        ...reel.sounds.map((sound) => soundTrack(sound, reel)),
      ]),
    },
    null,
    2,
  )}\n`;
}

function shotClip(
  { shot, name, first, frames, silent }: Extract<ReelItem, { kind: 'shot' }>,
  reel: Reel,
  known: TimelineShot | null,
): object {
  const rate = framesPerSecond(known?.rate ?? reel.rate);
  return clip(
    known?.name ?? name,
    stretch(time(first, rate), time(frames, framesPerSecond(reel.rate))),
    {
      OTIO_SCHEMA: 'ExternalReference.1',
      target_url: `${encodeURIComponent(known?.name ?? name)}.mp4`,
      ...(known
        ? { available_range: stretch(time(known.first, rate), time(known.last - known.first + 1, rate)) }
        : {}),
    },
    { shot, ...(silent ? { silent } : {}) },
  );
}

function titleClip(title: TitleItem, rate: number): object {
  const { size, ink, ground, lines, frames } = title;
  const text = textOf(title);
  return clip(
    text.split('\n')[0] || 'Black',
    stretch(time(0, rate), time(frames, rate)),
    { OTIO_SCHEMA: 'GeneratorReference.1', generator_kind: 'title', parameters: { text } },
    { title: { text, font: lines[0]?.text.font ?? null, size, ink, ground } },
  );
}

function soundTrack(sound: ReelSound, reel: Reel): object {
  const rate = framesPerSecond(reel.rate);
  const late = sound.start - 1;
  const left = sound.from + Math.max(0, -late) / rate;
  const rest = (reelFrames(reel) - Math.max(0, late)) / rate;
  const length = sound.length === undefined ? rest : Math.min(rest, sound.length - (left - sound.from));
  const gap = {
    ...composed('Gap.1', '', [], { source_range: stretch(time(0, rate), time(late, rate)) }),
    children: undefined,
  };
  return composed(
    'Track.1',
    sound.name,
    [
      ...(late > 0 ? [gap] : []),
      clip(
        sound.name,
        stretch(time(left * rate, rate), time(Math.max(0, length) * rate, rate)),
        { OTIO_SCHEMA: 'ExternalReference.1', target_url: encodeURIComponent(sound.name) },
        { sound },
      ),
    ],
    { kind: 'Audio' },
  );
}

const moment = z.looseObject({ rate: z.number().positive(), value: z.number() });
const range = z.looseObject({ start_time: moment, duration: moment });
const media = z.looseObject({
  OTIO_SCHEMA: z.string(),
  available_range: range.nullish(),
  target_url: z.string().nullish(),
});
const whirl = z.looseObject({ whirl: z.looseObject({}).optional() }).nullish();
const child = z.looseObject({
  OTIO_SCHEMA: z.string(),
  name: z.string().nullish(),
  kind: z.string().nullish(),
  metadata: whirl,
  source_range: range.nullish(),
  effects: z.array(z.unknown()).nullish(),
  enabled: z.boolean().nullish(),
  children: z.array(z.unknown()).nullish(),
  media_reference: media.nullish(),
  media_references: z.record(z.string(), media.nullable()).nullish(),
  active_media_reference_key: z.string().nullish(),
  in_offset: moment.nullish(),
  out_offset: moment.nullish(),
  transition_type: z.string().nullish(),
});
type Child = z.infer<typeof child>;
const timeline = z.looseObject({
  OTIO_SCHEMA: z.string().refine((text) => text.startsWith('Timeline.'), 'is no Timeline'),
  name: z.string().nullish(),
  metadata: whirl,
  tracks: child,
});
const title = titleItemSchema
  .pick({ size: true, ink: true, ground: true })
  .extend({ text: z.string(), font: z.string().nullable() });

/** A title that is to be lettered: what it says and in which font, `null` for the usual one. */
export interface Unlettered {
  readonly id: string;
  readonly text: string;
  readonly font: string | null;
}

export interface ReadTimeline {
  readonly name: string;
  readonly reel: Reel;
  /** Titles without letters yet. */
  readonly unlettered: readonly Unlettered[];
  /** What of the timeline a reel has not, in sentences. */
  readonly notes: readonly string[];
}

/** A timeline that cannot be read: what is wrong with it, and where. */
export class TimelineRefused extends Error {}

const schemaOf = ({ OTIO_SCHEMA }: { readonly OTIO_SCHEMA: string }): string => OTIO_SCHEMA.split('.')[0]!;

function rateOf(perSecond: number): Rate {
  const known = COMMON_RATES.find(({ rate }) => Math.abs(framesPerSecond(rate) - perSecond) < 0.002);
  return known?.rate ?? { num: Math.round(perSecond * 1000), den: 1000 };
}

const firstIssue = (error: z.ZodError, at: string): TimelineRefused => {
  const issue = error.issues[0]!;
  return new TimelineRefused(
    `${[at, ...issue.path].filter((part) => part !== '').join('/')}: ${issue.message}`,
  );
};

function parsed<T>(schema: z.ZodType<T>, value: unknown, at: string): T {
  const result = schema.safeParse(value);
  if (!result.success) throw firstIssue(result.error, at);
  return result.data;
}

/**
 * Reads OpenTimelineIO JSON as a reel: its first video track, with what follows what, and the sounds that a reel wrote.
 * @param shots those that clips may mean, by their ids; a clip finds its shot by id, else by name
 * @param newId a new id for each item, beginning with `itm_`
 * @throws TimelineRefused naming the place that is wrong
 */
export function readOtio(
  text: string,
  shots: ReadonlyMap<string, TimelineShot>,
  newId: () => string,
): ReadTimeline {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new TimelineRefused(`This is no JSON: ${error instanceof Error ? error.message : String(error)}`);
  }
  const file = parsed(timeline, json, '');
  const tracks = (file.tracks.children ?? []).map((entry, i) => parsed(child, entry, `tracks/children/${i}`));
  const films = tracks.filter((track) => (track.kind ?? 'Video') === 'Video' && schemaOf(track) === 'Track');
  if (films.length === 0) throw new TimelineRefused('tracks/children: there is no track of pictures in it.');
  const entries = (films[0]!.children ?? []).map((entry, i) =>
    parsed(child, entry, `tracks/children/${tracks.indexOf(films[0]!)}/children/${i}`),
  );
  const known = reelSchema.pick({ rate: true, width: true, height: true }).safeParse(file.metadata?.whirl);
  const spoken = entries.find(({ source_range }) => source_range)?.source_range?.duration.rate ?? 24;
  const base: Reel = { ...emptyReel(), rate: rateOf(spoken), ...(known.success ? known.data : {}) };
  const reader = new Reader(base, shots, newId);
  if (films.length > 1)
    reader.note(
      `It has ${films.length} tracks of pictures: the lowest is taken, a reel lays nothing over another.`,
    );
  for (const entry of entries) reader.take(entry);
  const sounds = tracks.filter(({ kind }) => kind === 'Audio').flatMap((track) => reader.soundsOf(track));
  return reader.end(file.name ?? 'Timeline', sounds);
}

/** Puts a reel together, child by child. */
class Reader {
  private readonly items: ReelItem[] = [];
  private readonly unlettered: Unlettered[] = [];
  private readonly notes = new Set<string>();
  private join: Join = CUT;

  constructor(
    private readonly base: Reel,
    private readonly shots: ReadonlyMap<string, TimelineShot>,
    private readonly newId: () => string,
  ) {}

  note(sentence: string): void {
    this.notes.add(sentence);
  }

  take(entry: Child): void {
    const name = entry.name || 'without a name';
    if (entry.enabled === false) this.note(`"${name}" is switched off there: it is taken all the same.`);
    if ((entry.effects ?? []).length > 0)
      this.note(`"${name}" has effects, such as another speed: they are left out.`);
    switch (schemaOf(entry)) {
      case 'Transition':
        this.join = this.joinOf(entry);
        return;
      case 'Clip':
        this.put(this.clipOf(entry));
        return;
      case 'Gap':
        this.put(this.blank(this.framesOf(entry, null)));
        return;
      default: {
        this.note(`"${name}" is a ${schemaOf(entry)}: its name stands in its place.`);
        this.put(this.slate(name, this.framesOf(entry, null)));
      }
    }
  }

  private put(item: ReelItem): void {
    this.items.push({ ...item, join: this.join });
    this.join = CUT;
  }

  private frames(at: { readonly value: number; readonly rate: number }): number {
    return Math.round((at.value / at.rate) * framesPerSecond(this.base.rate));
  }

  private framesOf({ source_range, name }: Child, available: z.infer<typeof range> | null): number {
    const duration = (source_range ?? available)?.duration;
    if (!duration) {
      this.note(`"${name || 'without a name'}" does not say how long it is: it is taken for a second.`);
      return Math.round(framesPerSecond(this.base.rate));
    }
    return Math.max(1, this.frames(duration));
  }

  private joinOf({ in_offset, out_offset, transition_type, metadata }: Child): Join {
    const before = in_offset ? this.frames(in_offset) : 0;
    const after = out_offset ? this.frames(out_offset) : 0;
    const own = metadata?.whirl as Partial<Join> | undefined;
    const wipes = own?.manner === 'wipe';
    if (!wipes && transition_type !== 'SMPTE_Dissolve')
      this.note(`A transition of the kind "${transition_type ?? ''}" becomes a dissolve.`);
    const frames = before + after;
    if (this.items.length > 0 && before !== Math.floor(frames / 2))
      this.note('A transition that does not lie evenly about its cut does so now.');
    const from = (['left', 'right', 'top', 'bottom'] as const).find((side) => side === own?.from) ?? 'left';
    return frames === 0 ? CUT : { manner: wipes ? 'wipe' : 'dissolve', frames, from };
  }

  private clipOf(entry: Child): ReelItem {
    const reference =
      entry.media_references?.[entry.active_media_reference_key ?? 'DEFAULT_MEDIA'] ??
      entry.media_reference ??
      null;
    const frames = this.framesOf(entry, reference?.available_range ?? null);
    const own = entry.metadata?.whirl;
    const lettered = title.safeParse(own?.title);
    if (lettered.success) {
      const { text, font, size, ink, ground } = lettered.data;
      const item = { ...this.blank(frames), size, ink, ground };
      if (text !== '') this.unlettered.push({ id: item.id, text, font });
      return item;
    }
    const found = this.shotOf(
      entry,
      typeof own?.shot === 'string' ? own.shot : null,
      reference?.target_url ?? '',
    );
    if (!found) {
      const name = entry.name || 'Without a name';
      this.note(`No shot here is called "${name}": its name stands in its place.`);
      return this.slate(name, frames);
    }
    const [id, shot] = found;
    const start = entry.source_range?.start_time;
    const first = start ? Math.round((start.value / start.rate) * framesPerSecond(shot.rate)) : shot.first;
    const silent = own?.silent === true ? { silent: true as const } : {};
    return { id: this.newId(), kind: 'shot', shot: id, name: shot.name, first, frames, join: CUT, ...silent };
  }

  private shotOf(entry: Child, id: string | null, url: string): [string, TimelineShot] | null {
    const byId = id === null ? undefined : this.shots.get(id);
    if (byId) return [id!, byId];
    let file = url
      .split('/')
      .at(-1)!
      .replace(/\.[^.]*$/, '');
    try {
      file = decodeURIComponent(file);
    } catch {
      // A name with a percent sign of its own stays as it is written.
    }
    for (const wanted of [entry.name ?? '', file]) {
      const named = [...this.shots].find(
        ([, { name }]) => name.toLowerCase() === wanted.trim().toLowerCase(),
      );
      if (named) return named;
    }
    return null;
  }

  private blank(frames: number): TitleItem {
    const [ink, ground] = [
      [0.9, 0.9, 0.88],
      [0, 0, 0],
    ] as const;
    return { id: this.newId(), kind: 'title', frames, join: CUT, lines: [], size: 0.09, ink, ground };
  }

  private slate(text: string, frames: number): TitleItem {
    const item = this.blank(frames);
    this.unlettered.push({ id: item.id, text, font: null });
    return item;
  }

  soundsOf(track: Child): ReelSound[] {
    return (track.children ?? []).flatMap((entry) => {
      const read = child.safeParse(entry);
      if (!read.success || schemaOf(read.data) !== 'Clip') return [];
      const own = reelSoundSchema.safeParse(read.data.metadata?.whirl?.sound);
      if (own.success) return [own.data];
      this.note(
        `The sound "${read.data.name || 'without a name'}" is not in the file: bring it in by itself.`,
      );
      return [];
    });
  }

  end(name: string, sounds: ReelSound[]): ReadTimeline {
    const ids = new Set<string>();
    const once = sounds.filter(({ id }) => !ids.has(id) && ids.add(id));
    const reel = fitted({ ...this.base, items: this.items, sounds: once });
    if (reel.items.some((item, at) => item.join.frames !== this.items[at]!.join.frames))
      this.note('Transitions that are longer than what they join are shorter now.');
    const form = reelSchema.safeParse(reel);
    if (!form.success) throw firstIssue(form.error, 'reel');
    const trouble = reelTrouble(reel);
    if (trouble !== null) throw new TimelineRefused(trouble);
    return {
      name: name.trim().slice(0, 80) || 'Timeline',
      reel,
      unlettered: this.unlettered,
      notes: [...this.notes],
    };
  }
}
