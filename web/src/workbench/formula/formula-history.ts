import { splitAddress } from '../../../../core/document';
import type { Patch } from '../../../../core/edit';
import { textOfLink, type NameTable } from '../../../../core/formula';

interface DoneStep {
  readonly kind: string;
  readonly change?: { readonly patches: readonly Patch[] };
}

const AT_MOST = 20;

/** Formulas that a channel had earlier in this visit, the latest first, each once, with the names of now. */
export function formulasBefore(
  undo: readonly DoneStep[],
  address: string,
  names: NameTable,
): readonly string[] {
  const { owner, path } = splitAddress(address);
  const found: string[] = [];
  for (const step of undo.toReversed())
    for (const { path: at, before } of step.change?.patches ?? []) {
      if (at[1] !== owner || at[2] !== 'links' || at[3] !== path) continue;
      const link = before as { formula?: string; refs?: Record<string, string> } | undefined;
      if (typeof link?.formula !== 'string') continue;
      const text = textOfLink(names, { formula: link.formula, refs: link.refs ?? {} });
      if (!found.includes(text)) found.push(text);
      if (found.length >= AT_MOST) return found;
    }
  return found;
}
