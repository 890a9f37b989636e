import { useEffect, useMemo, useRef, useState } from 'react';
import { splitAddress, type Shot } from '../../../../core/document';
import { compile, Evaluator } from '../../../../core/evaluate';
import {
  BUILT_KINDS,
  type OverKeys,
  RECIPES,
  type RecipeSpec,
  type Roles,
  type Setting,
  type Settings,
  type SettingValue,
} from '../../../../core/recipe';
import { choose } from '../actions/choosing';
import { useSession, useSheets, useShot } from '../session';
import { bringIntoView } from '../view/view-commands';
import { OverKeysChoice, OwnChanges } from './recipe-choices';
import { RecipeList } from './recipe-list';
import { Outcome } from './recipe-outcome';
import { completeSettings, likelyRoles, listOf, tryOut, type Trial } from './recipe-trial';
import { RoleField } from './role-field';
import { SettingField } from './setting-field';

const TRY_AFTER_MS = 150;
const NOTHING: readonly string[] = [];

/** Recipes: all of them, or the one that is being made or changed. */
export function RecipePanel() {
  const session = useSession();
  const kind = useSheets((state) => state.recipe!.kind);
  const spec = kind === null ? null : (RECIPES.get(kind) ?? null);
  return spec ? (
    <RecipeForm key={spec.kind} spec={spec} />
  ) : (
    <RecipeList onLeave={() => session.sheets.useRecipe(null)} />
  );
}

/** Shows what would be made in the view, a moment after it was last changed. */
function useTried(trial: Trial): void {
  const session = useSession();
  const shown: Shot | null = trial.ok ? trial.shot : null;
  const built = trial.ok ? trial.ids : NOTHING;
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
}

/** Roles, numbers and choices of a recipe that is being made, and what comes of them. */
function useRecipe(spec: RecipeSpec) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const open = useSheets((state) => state.recipe)!;
  const [roles, setRoles] = useState<Roles>(() =>
    Object.keys(open.roles).length === 0
      ? likelyRoles(shot, spec, session.choice.now.chosen, session.choice.now.channel)
      : open.roles,
  );
  const [settings, setSettings] = useState<Settings>(open.settings);
  const [builds, setBuilds] = useState(false);
  const [overKeys, setOverKeys] = useState<OverKeys | null>(null);
  const [keepsOwn, setKeepsOwn] = useState(true);
  const hasBuilt = open.id !== undefined && shot.recipes[open.id]?.built !== undefined;
  // Sizes are those of the shot, whatever is tried in the view.
  const still = useMemo(() => {
    const evaluator = new Evaluator(compile(shot, session.doc.now.plan.loudness));
    evaluator.evaluate(session.time.now.frame);
    return evaluator;
  }, [shot, session]);
  const trial = useMemo(
    () => tryOut(shot, spec, roles, settings, builds, open.id, still, overKeys, keepsOwn),
    [shot, spec, roles, settings, builds, open.id, still, overKeys, keepsOwn],
  );
  const complete = completeSettings(shot, spec, roles, settings, builds, still);
  const counts = ({ onlyWith, building }: Setting): boolean =>
    (!onlyWith || complete[onlyWith.setting] === onlyWith.is) && (!building || builds || hasBuilt);
  return {
    shot,
    id: open.id,
    roles,
    setRoles,
    setSettings,
    complete,
    shownSettings: spec.settings.filter(counts),
    builds,
    setBuilds,
    hasBuilt,
    overKeys,
    setOverKeys,
    keepsOwn,
    setKeepsOwn,
    trial,
  };
}

/** A recipe: what drives what, the numbers, the motion tried in the view, its plot and formulas, then made or left. */
function RecipeForm({ spec }: { spec: RecipeSpec }) {
  const session = useSession();
  const close = (): void => session.sheets.useRecipe(null);
  const recipe = useRecipe(spec);
  const { shot, roles, trial, builds, hasBuilt } = recipe;
  const [picking, setPicking] = useState<string | null>(null);
  const undecided = trial.ok && trial.keyed.length > 0 && recipe.overKeys === null;
  useTried(trial);
  useEffect(() => {
    session.sheets.pick(picking !== null);
    return () => session.sheets.pick(false);
  }, [session, picking]);

  const make = (): void => {
    if (!trial.ok) return;
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
          {hasBuilt && <p className="text-ink-2">The parts that it built follow its numbers.</p>}
          {BUILT_KINDS.has(spec.kind) && recipe.id === undefined && (
            <label className="flex items-center gap-1.5 font-semibold">
              <input
                type="checkbox"
                className="accent-teal"
                checked={builds}
                onChange={(event) => recipe.setBuilds(event.target.checked)}
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
                  recipe.setRoles((now) => ({
                    ...now,
                    [role.name]: value.length === 0 ? undefined : role.many ? value : value[0],
                  }))
                }
              />
            ))}
          <div className="grid grid-cols-2 gap-x-3 gap-y-1">
            {recipe.shownSettings.map((setting) => (
              <SettingField
                key={setting.name}
                setting={setting}
                value={recipe.complete[setting.name] ?? setting.initial}
                unit={shot.setup.unit}
                onChange={(value: SettingValue) =>
                  recipe.setSettings((now) => ({ ...now, [setting.name]: value }))
                }
              />
            ))}
          </div>
        </div>
        <TriedSide recipe={recipe} />
      </div>
      <div className="flex flex-none items-center gap-2 border-t border-line-soft px-2.5 py-1.5">
        <span className="text-ink-2">
          {undecided
            ? 'Say first what becomes of the keys'
            : trial.ok
              ? 'Shown in the view, not made yet'
              : ''}
        </span>
        <button type="button" className="btn ml-auto" onClick={close}>
          Leave
        </button>
        <button type="button" className="btn btn-strong" disabled={!trial.ok || undecided} onClick={make}>
          {recipe.id === undefined ? 'Make it' : 'Change it'}
        </button>
      </div>
    </section>
  );
}

/** What comes of a recipe: why it cannot be made, what it would write over, or the motion that it gives. */
function TriedSide({ recipe }: { recipe: ReturnType<typeof useRecipe> }) {
  const { shot, trial } = recipe;
  return (
    <div className="flex min-h-0 flex-col gap-1.5 overflow-y-auto border-l border-line-soft px-2.5 py-2">
      {!trial.ok && (
        <p role="alert" className="text-now">
          {trial.message}
        </p>
      )}
      {trial.ok && trial.keyed.length > 0 && (
        <OverKeysChoice
          shot={shot}
          keyed={trial.keyed}
          value={recipe.overKeys}
          onChange={recipe.setOverKeys}
        />
      )}
      {trial.ok && trial.own.length > 0 && (
        <OwnChanges own={trial.own} keeps={recipe.keepsOwn} onKeep={recipe.setKeepsOwn} />
      )}
      {trial.ok && <Outcome trial={trial} />}
    </div>
  );
}
