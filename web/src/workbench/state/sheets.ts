import type { Roles, Settings } from '../../../../core/recipe';
import type { NoteTrack } from '../../../../core/format/midi';
import { Slice } from './slice';

export type FootTab = 'keys' | 'curves' | 'links';
export type SheetName =
  | 'add'
  | 'shot'
  | 'search'
  | 'keys'
  | 'render'
  | 'why'
  | 'response'
  | 'report'
  | 'find'
  | 'small-film'
  | 'apart'
  | 'clearance'
  | 'poses';

/** A recipe on its way: which one, of what, with which numbers; `id` when one of the document is edited. */
export interface OpenRecipe {
  readonly id?: string;
  readonly kind: string | null;
  readonly roles: Roles;
  readonly settings: Settings;
}

/** Parts that are to be deleted once that is confirmed, since others read them. */
export interface AskedRemoval {
  readonly ids: readonly string[];
  readonly readers: readonly string[];
}

export interface SheetsState {
  /** What lies over the workbench: a sheet or a search. */
  readonly open: SheetName | null;
  /** What the foot shows. */
  readonly foot: FootTab;
  /** The recipe that is being written or edited. */
  readonly recipe: OpenRecipe | null;
  /** A recipe waits for a part to be clicked. */
  readonly picking: boolean;
  readonly asking: AskedRemoval | null;
  /** Sound whose sheet is open. */
  readonly sound: string | null;
  /** Notes of a file that wait for which of them become beats. */
  readonly notes: { readonly file: string; readonly tracks: readonly NoteTrack[] } | null;
  /** Channel whose field is to be typed into, until it is. */
  readonly field: string | null;
  /** Part whose name is being typed. */
  readonly renaming: string | null;
}

/** What is open over and in the workbench. */
export class Sheets extends Slice<SheetsState> {
  constructor() {
    super({
      open: null,
      foot: 'keys',
      recipe: null,
      picking: false,
      asking: null,
      sound: null,
      notes: null,
      field: null,
      renaming: null,
    });
  }

  show(open: SheetName | null): void {
    this.set({ open });
  }

  showSound(sound: string | null): void {
    this.set({ sound });
  }

  chooseNotes(notes: SheetsState['notes']): void {
    this.set({ notes });
  }

  footTab(foot: FootTab): void {
    this.set({ foot });
  }

  /** Opens a recipe in the foot; null closes it. */
  useRecipe(recipe: OpenRecipe | null): void {
    this.set(recipe ? { recipe, foot: 'links', open: null } : { recipe });
  }

  pick(picking: boolean): void {
    this.set({ picking });
  }

  ask(asking: AskedRemoval | null): void {
    this.set({ asking });
  }

  typeInto(field: string | null): void {
    this.set({ field });
  }

  rename(renaming: string | null): void {
    this.set({ renaming });
  }
}
