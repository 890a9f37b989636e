import { useEffect, useLayoutEffect, useRef, useState, type RefObject } from 'react';
import { linkOf, type Link } from '../../../../core/document';
import { useShot } from '../session';
import { formulaDraft, useBarRequests } from './formula-draft';
import type { FormulaFieldHandle } from './formula-field';

/** What is being written in the bar. */
export interface BarDraft {
  readonly input: RefObject<FormulaFieldHandle | null>;
  /** The channel that is edited, which stays while other parts are chosen to pick references; else the chosen one. */
  readonly shown: string | null;
  readonly link: Link | null;
  readonly edited: { readonly address: string; readonly text: string } | null;
  /** Where the caret was when something was typed last; `null` while no proposals are wanted. */
  readonly caret: number | null;
  /** The proposal that arrows have come to, or -1. */
  readonly picked: number;
  pick(proposal: number): void;
  write(text: string): void;
  /** The text after a key, with the caret where it is now. */
  typed(text: string, caret: number): void;
  /** Where the caret belongs once the text that was put in is there. */
  caretTo(at: number): void;
  /** Leaves the proposals. */
  close(): void;
  leave(): void;
}

/** Holds what is written in the bar, and takes what other places of the page put into it. */
export function useBarDraft(address: string | null): BarDraft {
  const shot = useShot((state) => state.shot);
  const { focus, inserted } = useBarRequests();
  const input = useRef<FormulaFieldHandle>(null);
  const [edited, setEdited] = useState<BarDraft['edited']>(null);
  const [caret, setCaret] = useState<number | null>(null);
  const [picked, setPicked] = useState(-1);
  // The caret is put there before the next key is typed.
  const pendingCaret = useRef<number | null>(null);
  useLayoutEffect(() => {
    if (pendingCaret.current === null) return;
    input.current?.setSelectionRange(pendingCaret.current, pendingCaret.current);
    pendingCaret.current = null;
  });
  const shown = edited?.address ?? address;
  const link = shown === null ? null : linkOf(shot, shown);
  const write = (text: string): void => {
    if (shown === null) return;
    setEdited({ address: shown, text });
    formulaDraft.setEditing(text.trimStart().startsWith('='));
  };
  useEffect(() => {
    if (focus.count === 0) return;
    input.current?.focus();
    if (focus.blank && !link) write('= ');
    // Only a new request counts, not the text that is there.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [focus.count]);
  useEffect(() => {
    const field = input.current;
    if (inserted.count === 0 || !field || edited === null) return;
    const [from, to] = [field.selectionStart, field.selectionEnd];
    write(edited.text.slice(0, from) + inserted.text + edited.text.slice(to));
    pendingCaret.current = from + inserted.text.length;
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [inserted.count]);
  return {
    input,
    shown,
    link,
    edited,
    caret,
    picked,
    pick: setPicked,
    write,
    typed: (text, at) => {
      write(text);
      setCaret(at);
      setPicked(-1);
    },
    caretTo: (at) => {
      pendingCaret.current = at;
    },
    close: () => setCaret(null),
    leave: () => {
      setEdited(null);
      setCaret(null);
      formulaDraft.setEditing(false);
    },
  };
}
