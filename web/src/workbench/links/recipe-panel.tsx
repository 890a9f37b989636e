import { useEffect, useMemo, useRef, useState } from 'react';
import { splitAddress, type Shot } from '../../../../core/document';
import { apply, channelName, compose, EditRefused, type Change } from '../../../../core/edit';
import { compile, Evaluator, responseOverTime, responseToInput } from '../../../../core/evaluate';
import {
  applyRecipe,
  BUILT_KINDS,
  buildParts,
  keyedOf,
  ownSizes,
  type OverKeys,
  RECIPES,
  type RecipeSpec,
  type Roles,
  type Setting,
  type Settings,
  type SettingValue,
  type Written,
} from '../../../../core/recipe';
import { choose } from '../actions/choosing';
import { useSession, useSheets, useShot } from '../session';
import { bringIntoView } from '../view/view-commands';
import { factWords } from './fact-words';
import { likelyChannel, RoleField } from './role-field';
import { SettingField } from './setting-field';

const TRY_AFTER_MS = 150;
const NOTHING: readonly string[] = [];
const PLOT = { width: 328, height: 64, points: 120, most: 4 };

type Trial =
  | {
      readonly ok: true;
      readonly change: Change;
      readonly shot: Shot;
      readonly written: Written;
      readonly driver: string | null;
      readonly ids: readonly string[];
      /** Channels with keys that the recipe would link. */
      readonly keyed: readonly string[];
    }
  | { readonly ok: false; readonly message: string };

const listOf = (value: Roles[string]): readonly string[] =>
  value === undefined ? [] : typeof value === 'string' ? [value] : value;

/** All numbers of a recipe: as typed, else as the parts have them, else as recipes begin. */
function completeSettings(
  shot: Shot,
  spec: RecipeSpec,
  roles: Roles,
  settings: Settings,
  builds: boolean,
  evaluator: Evaluator,
): Settings {
  const own = builds ? {} : ownSizes(shot, evaluator, spec.kind, roles);
  return Object.fromEntries(
    spec.settings.map((setting) => [
      setting.name,
      settings[setting.name] ?? own[setting.name] ?? setting.initial,
    ]),
  );
}

/** What a recipe makes of its roles and numbers, without doing it. */
function tryOut(
  shot: Shot,
  spec: RecipeSpec,
  roles: Roles,
  settings: Settings,
  builds: boolean,
  id: string | undefined,
  evaluator: Evaluator,
  overKeys: OverKeys | null,
): Trial {
  try {
    const complete = completeSettings(shot, spec, roles, settings, builds, evaluator);
    const built = builds ? buildParts(shot, spec.kind, complete) : null;
    const base = built ? apply(shot, built.change) : shot;
    const used = built ? built.roles : roles;
    const made = applyRecipe(base, spec, used, complete, id, undefined, overKeys ?? 'keep');
    const change = built ? { ...compose(built.change, made.change), label: spec.label } : made.change;
    return {
      ok: true,
      change,
      shot: apply(shot, change),
      written: made.written,
      driver: spec.roles[0]?.kind === 'part' ? null : (listOf(used[spec.roles[0]?.name ?? ''])[0] ?? null),
      ids: built?.ids ?? [],
      keyed: id === undefined ? keyedOf(base, made.written) : [],
    };
  } catch (error) {
    if (error instanceof EditRefused) return { ok: false, message: error.message };
    throw error;
  }
}

/** Roles that the chosen parts most likely take: the first one drives, the others are driven. */
function likelyRoles(shot: Shot, spec: RecipeSpec, chosen: readonly string[], channel: string | null): Roles {
  if (chosen.length < 2) {
    const driven = spec.roles.find((role, i) => i > 0 && !role.optional);
    return channel !== null && driven && driven.kind !== 'part'
      ? { [driven.name]: driven.many ? [channel] : channel }
      : {};
  }
  const rest = [...chosen];
  return Object.fromEntries(
    spec.roles.flatMap((role): [string, string | string[]][] => {
      const parts = role.many ? rest.splice(0) : rest.splice(0, 1);
      const found = parts.flatMap((id) => likelyChannel(shot, id, role.kind) ?? []);
      return found.length === 0 ? [] : [[role.name, role.many ? found : found[0]!]];
    }),
  );
}

/** A recipe: what drives what, the numbers, the motion tried in the view, its plot and formulas, then made or left. */
export function RecipePanel() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const open = useSheets((state) => state.recipe)!;
  const close = (): void => session.sheets.useRecipe(null);
  const spec = open.kind === null ? null : (RECIPES.get(open.kind) ?? null);
  const [roles, setRoles] = useState<Roles>(() =>
    spec && Object.keys(open.roles).length === 0
      ? likelyRoles(shot, spec, session.choice.now.chosen, session.choice.now.channel)
      : open.roles,
  );
  const [settings, setSettings] = useState<Settings>(open.settings);
  const [builds, setBuilds] = useState(false);
  const [picking, setPicking] = useState<string | null>(null);
  const [overKeys, setOverKeys] = useState<OverKeys | null>(null);
  // Sizes are those of the shot, whatever is tried in the view.
  const still = useMemo(() => {
    const evaluator = new Evaluator(compile(shot, session.doc.now.plan.loudness));
    evaluator.evaluate(session.time.now.frame);
    return evaluator;
  }, [shot, session]);
  const trial = useMemo(
    () => (spec ? tryOut(shot, spec, roles, settings, builds, open.id, still, overKeys) : null),
    [shot, spec, roles, settings, builds, open.id, still, overKeys],
  );
  const complete = spec ? completeSettings(shot, spec, roles, settings, builds, still) : {};
  const counts = ({ onlyWith }: Setting): boolean => !onlyWith || complete[onlyWith.setting] === onlyWith.is;
  const undecided = trial?.ok === true && trial.keyed.length > 0 && overKeys === null;
  const shown = trial?.ok ? trial.shot : null;
  const built = trial?.ok ? trial.ids : NOTHING;
  const lookedAt = useRef(false);
  useEffect(() => {
    const timer = setTimeout(() => {
      session.doc.try(shown);
      // What is built is looked at once it is drawn, and left alone when its numbers change.
      if (built.length > 0 && !lookedAt.current)
        requestAnimationFrame(() => requestAnimationFrame(() => bringIntoView(built)));
      lookedAt.current = built.length > 0;
    }, TRY_AFTER_MS);
    return () => clearTimeout(timer);
  }, [session, shown, built]);
  useEffect(() => () => session.doc.try(null), [session]);
  useEffect(() => {
    session.sheets.pick(picking !== null);
    return () => session.sheets.pick(false);
  }, [session, picking]);

  const make = (): void => {
    if (!trial?.ok) return;
    const done = session.edit(() => trial.change);
    if (!done) return;
    if (trial.ids.length > 0) {
      // The driver is what is keyed next.
      choose(session, trial.driver === null ? trial.ids.slice(0, 1) : [splitAddress(trial.driver).owner]);
      session.choice.showChannel(trial.driver);
      bringIntoView(trial.ids);
    }
    close();
  };
  if (!spec) return <RecipeList onLeave={close} />;
  return (
    <section
      className="flex w-[660px] max-w-[60%] flex-none flex-col border-r border-line"
      aria-label="Recipe"
    >
      <h3 className="flex h-8 flex-none items-center gap-2 border-b border-line-soft px-2.5 font-bold">
        <span className="truncate">{spec.label}</span>
        <button
          type="button"
          className="ml-auto font-semibold text-teal hover:underline"
          onClick={() => session.sheets.useRecipe({ kind: null, roles: {}, settings: {} })}
        >
          other recipes
        </button>
      </h3>
      <div className="grid min-h-0 flex-1 grid-cols-[1fr_352px]">
        <div className="flex min-h-0 flex-col gap-2 overflow-y-auto px-2.5 py-2">
          <p className="text-ink-2">{spec.help}</p>
          {BUILT_KINDS.has(spec.kind) && open.id === undefined && (
            <label className="flex items-center gap-1.5 font-semibold">
              <input
                type="checkbox"
                className="accent-teal"
                checked={builds}
                onChange={(event) => setBuilds(event.target.checked)}
              />
              Build the parts too, to these numbers
            </label>
          )}
          {!builds &&
            spec.roles.map((role) => (
              <RoleField
                key={role.name}
                role={role}
                value={listOf(roles[role.name])}
                picking={picking === role.name}
                onPicking={(on) => setPicking(on ? role.name : null)}
                onChange={(value) =>
                  setRoles((now) => ({
                    ...now,
                    [role.name]: value.length === 0 ? undefined : role.many ? value : value[0],
                  }))
                }
              />
            ))}
          <div className="grid grid-cols-2 gap-x-3 gap-y-1">
            {spec.settings.filter(counts).map((setting) => (
              <SettingField
                key={setting.name}
                setting={setting}
                value={complete[setting.name] ?? setting.initial}
                unit={shot.setup.unit}
                onChange={(value: SettingValue) => setSettings((now) => ({ ...now, [setting.name]: value }))}
              />
            ))}
          </div>
        </div>
        <div className="flex min-h-0 flex-col gap-1.5 overflow-y-auto border-l border-line-soft px-2.5 py-2">
          {trial && !trial.ok && (
            <p role="alert" className="text-now">
              {trial.message}
            </p>
          )}
          {trial?.ok && trial.keyed.length > 0 && (
            <OverKeysChoice shot={shot} keyed={trial.keyed} value={overKeys} onChange={setOverKeys} />
          )}
          {trial?.ok && <Outcome trial={trial} />}
        </div>
      </div>
      <div className="flex flex-none items-center gap-2 border-t border-line-soft px-2.5 py-1.5">
        <span className="text-ink-2">
          {undecided
            ? 'Say first what becomes of the keys'
            : trial?.ok
              ? 'Shown in the view, not made yet'
              : ''}
        </span>
        <button type="button" className="btn ml-auto" onClick={close}>
          Leave
        </button>
        <button type="button" className="btn btn-strong" disabled={!trial?.ok || undecided} onClick={make}>
          {open.id === undefined ? 'Make it' : 'Change it'}
        </button>
      </div>
    </section>
  );
}

/** Asks what becomes of keys where a recipe writes its links. */
function OverKeysChoice({
  shot,
  keyed,
  value,
  onChange,
}: {
  shot: Shot;
  keyed: readonly string[];
  value: OverKeys | null;
  onChange(value: OverKeys): void;
}) {
  const names = keyed.map((address) => channelName(shot, address));
  return (
    <fieldset className="rounded border border-line bg-raised px-2 py-1.5">
      <legend className="px-1 font-semibold">
        {names.length === 1 ? `${names[0]} has keys` : `${names.length} of these have keys`}
      </legend>
      {(
        [
          ['replace', 'Replace the keys by the formula'],
          ['add', 'Add the formula to the keys'],
        ] as const
      ).map(([choice, words]) => (
        <label key={choice} className="flex items-center gap-1.5">
          <input
            type="radio"
            name="over-keys"
            className="accent-teal"
            checked={value === choice}
            onChange={() => onChange(choice)}
          />
          {words}
        </label>
      ))}
      <p className="text-ink-2">Or leave the recipe: nothing is changed.</p>
    </fieldset>
  );
}

function RecipeList({ onLeave }: { onLeave(): void }) {
  const session = useSession();
  return (
    <section className="flex w-[372px] flex-none flex-col border-r border-line" aria-label="Recipes">
      <h3 className="flex h-8 flex-none items-center border-b border-line-soft px-2.5 font-bold">
        Recipes
        <button type="button" className="btn ml-auto h-[22px]" onClick={onLeave}>
          Leave
        </button>
      </h3>
      <ul className="min-h-0 flex-1 overflow-y-auto py-1">
        {[...RECIPES.values()].map((spec) => (
          <li key={spec.kind}>
            <button
              type="button"
              className="block w-full px-2.5 py-1 text-left hover:bg-field"
              onClick={() => session.sheets.useRecipe({ kind: spec.kind, roles: {}, settings: {} })}
            >
              <b>{spec.label}</b>
              <span className="block text-ink-2">{spec.help}</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Formulas, facts and a plot of what the recipe gives. */
function Outcome({ trial }: { trial: Trial & { ok: true } }) {
  const { shot, written, driver } = trial;
  const loudness = useShot((state) => state.plan.loudness);
  const plot = useMemo(() => {
    const plan = compile(shot, loudness);
    const { first, last } = shot.setup;
    const moves =
      driver === null ||
      new Set(responseOverTime(plan, driver, first, last, 24).y.map((value) => value.toFixed(6))).size > 1;
    const curves = written.links.slice(0, PLOT.most).map(([address]) => {
      const { y } = moves
        ? responseOverTime(plan, address, first, last, PLOT.points)
        : responseToInput(plan, address, driver, first, 0, 360, PLOT.points);
      const [low, high] = [Math.min(...y), Math.max(...y)];
      const points = y
        .map((value, i) => {
          const share = high - low > 1e-9 ? (value - low) / (high - low) : 0.5;
          return `${((i / (y.length - 1)) * PLOT.width).toFixed(1)},${(PLOT.height - 4 - share * (PLOT.height - 8)).toFixed(1)}`;
        })
        .join(' ');
      return { address, points };
    });
    return { moves, curves };
  }, [shot, written, driver, loudness]);
  return (
    <>
      {(written.warnings ?? []).map((warning) => (
        <p
          key={warning}
          className="rounded bg-brass-wash px-2 py-1 leading-snug"
          data-testid="recipe-warning"
        >
          {warning}
        </p>
      ))}
      <svg
        width={PLOT.width}
        height={PLOT.height}
        className="flex-none rounded border border-line-soft bg-raised"
        role="img"
        aria-label="What the driven values do"
      >
        {plot.curves.map(({ address, points }, i) => (
          <polyline
            key={address}
            points={points}
            fill="none"
            stroke="var(--color-link)"
            strokeWidth={i === 0 ? 1.8 : 1}
            opacity={1 - i * 0.22}
          />
        ))}
      </svg>
      <p className="text-ink-3">
        {plot.moves
          ? 'over the range of the shot'
          : `over one turn of ${channelName(shot, driver!)}, which does not move yet: key it`}
      </p>
      {written.facts && (
        <dl className="num grid grid-cols-2 gap-x-3 text-ink-2">
          {Object.entries(written.facts).map(([name, value]) => (
            <div key={name} className="flex justify-between gap-2">
              <dt className="truncate">{name}</dt>
              <dd>{factWords(name, value, shot.setup.unit)}</dd>
            </div>
          ))}
        </dl>
      )}
      <ul aria-label="Formulas">
        {written.links.map(([address, formula]) => (
          <li key={address} className="mb-1">
            <span className="font-semibold">{channelName(shot, address)}</span>
            <code className="num block break-words text-link">= {formula}</code>
          </li>
        ))}
      </ul>
    </>
  );
}
