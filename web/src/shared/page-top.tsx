import { NavLink } from 'react-router';
import { Mark } from './mark';
import { ThemeSwitch } from './theme-switch';

/** Top strip of the pages outside the workbench. */
export function PageTop({ here }: { here: 'projects' | 'renders' | 'storage' }) {
  const entry = (to: string, words: string, on: boolean) => (
    <NavLink
      to={to}
      aria-current={on ? 'page' : undefined}
      className={`flex h-full items-center border-b-2 px-1 font-semibold ${on ? 'border-night-brass text-halo' : 'border-transparent text-night-ink-2 hover:text-halo'}`}
    >
      {words}
    </NavLink>
  );
  return (
    <header className="flex h-11 flex-none items-center gap-5 bg-strip px-3 text-paper">
      <Mark />
      {entry('/', 'Projects', here === 'projects')}
      {entry('/renders', 'Renders', here === 'renders')}
      {entry('/storage', 'Storage', here === 'storage')}
      <span className="ml-auto">
        <ThemeSwitch />
      </span>
    </header>
  );
}
