import { X } from 'lucide-react';
import { useState } from 'react';
import type { Meeting } from '../../../../core/clearance';
import type { Shot } from '../../../../core/document';
import { addContact, addContacts, changeContact, removeContact } from '../../../../core/edit';
import { useClearance, useSession } from '../session';
import { depthWords, hasChanged, stretchWords } from './finding-words';
import { showFinding } from './show-finding';

const HEADINGS: Readonly<Record<Meeting['kind'], string>> = {
  into: 'Come together',
  along: 'Touch from the first frame to the last, and move',
  still: 'Stand in one another, as they were put',
};

/** What was found: what comes together first, then what rubs or stands in one another, then what is left out. */
export function Told({ meetings, shot }: { meetings: readonly Meeting[]; shot: Shot }) {
  const session = useSession();
  const { share, found, of } = useClearance((state) => state);
  const groups = (['into', 'along', 'still'] as const).map((kind) => ({
    kind,
    list: meetings.filter((meeting) => meeting.kind === kind),
  }));
  const changed = of !== null && hasChanged(of.shot, shot);
  return (
    <>
      <p className="mb-2 text-ink-2" role="status">
        {share !== null ? 'Found so far: ' : ''}
        {groups[0]!.list.length === 0
          ? share === null && found
            ? `Nothing comes together in frames ${of!.asked.from} to ${of!.asked.to}. `
            : 'nothing comes together. '
          : `${groups[0]!.list.length} ${groups[0]!.list.length === 1 ? 'pair comes' : 'pairs come'} together. `}
        {found && `${found.bodies} solids were looked at. `}
        {found?.note}
        {share === null && !found && 'It was broken off: there may be more. '}
        {of && of.missing > 0 && `${of.missing} mesh files had not been read and were left out. `}
        {changed && <b className="text-now">The shot has been changed since: check again.</b>}
      </p>
      {groups.map(
        ({ kind, list }) =>
          list.length > 0 && (
            <details key={kind} open={kind === 'into'} className="mb-2">
              <summary className="cursor-pointer py-1 font-semibold">
                {HEADINGS[kind]} <span className="font-normal text-ink-3">{list.length}</span>
                {kind === 'along' && (
                  <button
                    type="button"
                    className="ml-3 font-normal text-teal underline"
                    title="Says of all of these that they are meant to touch; one step that can be undone"
                    onClick={(event) => {
                      event.preventDefault();
                      session.edit((now) =>
                        addContacts(
                          now,
                          list.map(({ a, b }) => [a, b] as const),
                        ),
                      );
                    }}
                  >
                    All are meant to
                  </button>
                )}
              </summary>
              <Rows list={list} shot={shot} />
            </details>
          ),
      )}
      <LeftOut shot={shot} />
    </>
  );
}

/** Stretches that are written out; more are counted. */
const STRETCHES = 3;
/** Rows that are shown of a group. */
const ROWS = 200;

function Rows({ list, shot }: { list: readonly Meeting[]; shot: Shot }) {
  const session = useSession();
  const name = (part: string): string => shot.parts[part]?.name ?? 'gone';
  return (
    <table className="w-full table-fixed">
      <tbody>
        {list.slice(0, ROWS).map((meeting) => {
          const { a, b, findings, deepest, kind } = meeting;
          const first = findings[0]!;
          const names = a === b ? `Copies of ${name(a)}` : `${name(a)} and ${name(b)}`;
          return (
            <tr key={`${a} ${b}`} className="border-t border-line-soft align-baseline">
              <td className="truncate py-1 pr-3 font-semibold" title={names}>
                {names}
              </td>
              <td className="num w-[250px] pr-3 text-ink-2">
                {kind === 'still' ? '' : findings.slice(0, STRETCHES).map(stretchWords).join(', ')}
                {kind !== 'still' &&
                  findings.length > STRETCHES &&
                  ` and ${findings.length - STRETCHES} more`}
              </td>
              <td className="num w-[110px] pr-3">
                {kind === 'still' ? '' : depthWords(shot, deepest ?? first)}
              </td>
              <td className="w-[132px] text-right">
                <button
                  type="button"
                  className="btn h-[22px]"
                  aria-label={`Show ${names}`}
                  onClick={() => showFinding(session, first, first.from)}
                >
                  Show
                </button>{' '}
                <button
                  type="button"
                  className="btn h-[22px]"
                  aria-label={`${names} are meant to touch`}
                  title="Leaves this pair out once and for all"
                  onClick={() => session.edit((now) => addContact(now, [a, b]).change)}
                >
                  Meant to
                </button>
              </td>
            </tr>
          );
        })}
        {list.length > ROWS && (
          <tr>
            <td className="py-1 text-ink-3">and {list.length - ROWS} more</td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

/** Pairs that are said to be meant to touch, with the words for it. */
function LeftOut({ shot }: { shot: Shot }) {
  const session = useSession();
  const contacts = Object.entries(shot.contacts);
  if (contacts.length === 0) return null;
  const name = (part: string): string => shot.parts[part]?.name ?? 'gone';
  return (
    <details className="mb-2">
      <summary className="cursor-pointer py-1 font-semibold">
        Left out <span className="font-normal text-ink-3">{contacts.length}</span>
      </summary>
      <ul aria-label="Pairs that are meant to touch">
        {contacts.map(([id, { a, b, why }]) => {
          const names = a === b ? `Copies of ${name(a)}` : `${name(a)} and ${name(b)}`;
          return (
            <li key={id} className="flex items-center gap-2 border-t border-line-soft py-1">
              <span className="min-w-0 flex-1 truncate font-semibold" title={names}>
                {names}
              </span>
              <Why
                key={why}
                label={`Why ${names} touch`}
                why={why}
                onChange={(next) => session.edit((now) => changeContact(now, id, next))}
              />
              <button
                type="button"
                aria-label={`Look at ${names} again`}
                title="Look at this pair again"
                className="rounded p-0.5 text-ink-3 hover:bg-line-soft hover:text-now"
                onClick={() => session.edit((now) => removeContact(now, id))}
              >
                <X size={13} aria-hidden="true" />
              </button>
            </li>
          );
        })}
      </ul>
    </details>
  );
}

function Why({ label, why, onChange }: { label: string; why: string; onChange(why: string): void }) {
  const [text, setText] = useState(why);
  const keep = (): void => {
    if (text.trim() !== why) onChange(text);
  };
  return (
    <input
      aria-label={label}
      className="input-field h-[22px] w-64 px-1.5"
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key !== 'Enter') return;
        event.preventDefault();
        keep();
      }}
    />
  );
}
