import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import {
  Annotation,
  Compartment,
  EditorState,
  StateEffect,
  StateField,
  Transaction,
} from '@codemirror/state';
import { Decoration, EditorView, hoverTooltip, keymap, type DecorationSet } from '@codemirror/view';
import { useImperativeHandle, useLayoutEffect, useRef, type Ref } from 'react';

/** A range of the text that is shown in a manner of its own. */
export interface FormulaMark {
  readonly from: number;
  readonly to: number;
  readonly kind: 'reference' | 'fault';
}

/** What is told of the place under the pointer. */
export interface FormulaHover {
  readonly from: number;
  readonly to: number;
  readonly text: string;
}

/** The field from outside, as a plain text field would be. */
export interface FormulaFieldHandle {
  focus(): void;
  blur(): void;
  readonly selectionStart: number;
  readonly selectionEnd: number;
  setSelectionRange(from: number, to: number): void;
}

interface Props {
  readonly ref: Ref<FormulaFieldHandle>;
  readonly text: string;
  readonly marks: readonly FormulaMark[];
  readonly disabled: boolean;
  readonly invalid: boolean;
  readonly formula: boolean;
  /** Whether proposals are shown, and the element id of the picked one. */
  readonly proposing: boolean;
  readonly picked: string | undefined;
  onFocus(): void;
  onBlur(): void;
  onChange(text: string, caret: number): void;
  onKeyDown(event: KeyboardEvent): void;
  hover(at: number): FormulaHover | null;
}

const fromOutside = Annotation.define<boolean>();
const setMarks = StateEffect.define<readonly FormulaMark[]>();

const MARK = {
  reference: Decoration.mark({ class: 'formula-reference' }),
  fault: Decoration.mark({ class: 'formula-fault' }),
};

const markField = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update: (marks, transaction) => {
    let next = marks.map(transaction.changes);
    for (const effect of transaction.effects)
      if (effect.is(setMarks)) {
        const length = transaction.newDoc.length;
        next = Decoration.set(
          effect.value.flatMap(({ from, to, kind }) => {
            // What is missing is shown at the letter before it.
            const begin = Math.max(0, Math.min(from === to ? from - 1 : from, length));
            const end = Math.min(Math.max(to, begin), length);
            return begin < end ? [MARK[kind].range(begin, end)] : [];
          }),
          true,
        );
      }
    return next;
  },
  provide: (field) => EditorView.decorations.from(field),
});

/** A formula is one line: what is pasted in several is joined. */
const oneLine = EditorState.transactionFilter.of((transaction) =>
  transaction.newDoc.lines === 1
    ? transaction
    : {
        changes: {
          from: 0,
          to: transaction.startState.doc.length,
          insert: transaction.newDoc.toString().replaceAll('\n', ' '),
        },
        selection: { anchor: transaction.newSelection.main.head },
      },
);

const look = EditorView.theme({
  '&': { height: '100%', backgroundColor: 'transparent' },
  '&.cm-focused': { outline: 'none' },
  '.cm-scroller': { fontFamily: 'inherit', lineHeight: '28px', overflowX: 'auto', scrollbarWidth: 'none' },
  '.cm-content': { padding: '0', caretColor: 'var(--color-halo)' },
  '.cm-line': { padding: '0 10px' },
  '.cm-tooltip': { border: '0', background: 'transparent' },
});

function attributes(props: Props): Record<string, string> {
  return {
    role: 'combobox',
    'aria-label': 'Formula',
    'aria-autocomplete': 'list',
    'aria-multiline': 'false',
    'aria-controls': 'formula-proposals',
    'aria-expanded': String(props.proposing),
    'aria-invalid': String(props.invalid),
    ...(props.picked ? { 'aria-activedescendant': props.picked } : {}),
    spellcheck: 'false',
    autocorrect: 'off',
    class: props.formula ? 'is-formula' : '',
  };
}

/** The line in which formulas are written: references as chips, mistakes underlined, values under the pointer. */
export function FormulaField(props: Props) {
  const box = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(null);
  const latest = useRef(props);
  const settings = useRef(new Compartment());
  useLayoutEffect(() => {
    latest.current = props;
  });
  const { text, marks, disabled } = props;
  const attrs = JSON.stringify(attributes(props));
  const marked = JSON.stringify(marks);

  useLayoutEffect(() => {
    const made = new EditorView({
      parent: box.current!,
      state: EditorState.create({
        doc: latest.current.text,
        extensions: [
          oneLine,
          markField,
          look,
          history(),
          settings.current.of([]),
          EditorView.domEventHandlers({
            keydown: (event) => {
              latest.current.onKeyDown(event);
              return event.defaultPrevented;
            },
          }),
          keymap.of([...historyKeymap, ...defaultKeymap.filter((binding) => binding.key !== 'Enter')]),
          EditorView.updateListener.of((update) => {
            if (update.focusChanged) {
              if (update.view.hasFocus) latest.current.onFocus();
              else latest.current.onBlur();
            }
            if (update.docChanged && !update.transactions.some((done) => done.annotation(fromOutside)))
              latest.current.onChange(update.state.doc.toString(), update.state.selection.main.head);
          }),
          hoverTooltip(
            (_, at) => {
              const found = latest.current.hover(at);
              if (!found) return null;
              return {
                pos: found.from,
                end: found.to,
                above: false,
                create: () => {
                  const dom = document.createElement('div');
                  dom.className = 'formula-hover';
                  dom.textContent = found.text;
                  return { dom };
                },
              };
            },
            { hoverTime: 200 },
          ),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, []);

  useLayoutEffect(() => {
    view.current!.dispatch({
      effects: settings.current.reconfigure([
        EditorView.contentAttributes.of(JSON.parse(attrs) as Record<string, string>),
        EditorView.editable.of(!disabled),
      ]),
    });
  }, [attrs, disabled]);

  useLayoutEffect(() => {
    const { state } = view.current!;
    const changed = state.doc.toString() !== text;
    view.current!.dispatch({
      ...(changed ? { changes: { from: 0, to: state.doc.length, insert: text } } : {}),
      effects: setMarks.of(JSON.parse(marked) as readonly FormulaMark[]),
      annotations: [fromOutside.of(true), Transaction.addToHistory.of(false)],
    });
  }, [text, marked]);

  useImperativeHandle(
    props.ref,
    (): FormulaFieldHandle => ({
      focus: () => view.current?.focus(),
      blur: () => view.current?.contentDOM.blur(),
      get selectionStart() {
        return view.current?.state.selection.main.from ?? 0;
      },
      get selectionEnd() {
        return view.current?.state.selection.main.to ?? 0;
      },
      setSelectionRange: (from, to) => {
        const length = view.current?.state.doc.length ?? 0;
        view.current?.dispatch({
          selection: { anchor: Math.min(from, length), head: Math.min(to, length) },
          scrollIntoView: true,
        });
      },
    }),
    [],
  );
  return <div ref={box} className="num h-full min-w-0 overflow-hidden" />;
}
