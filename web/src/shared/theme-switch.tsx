import { Moon, Sun, SunMoon } from 'lucide-react';
import { chooseTheme, THEMES, useTheme, type Theme } from './theme';

const LOOKS: Record<Theme, { readonly Icon: typeof Sun; readonly words: string }> = {
  day: { Icon: Sun, words: 'Day colours' },
  evening: { Icon: Moon, words: 'Evening colours' },
  system: { Icon: SunMoon, words: 'Colours as the system has them' },
};

/** Goes round the themes: day, evening, as the system. */
export function ThemeSwitch() {
  const theme = useTheme();
  const { Icon, words } = LOOKS[theme];
  const next = THEMES[(THEMES.indexOf(theme) + 1) % THEMES.length]!;
  return (
    <button
      type="button"
      aria-label={`${words}: change`}
      title={`${words}. Click for: ${LOOKS[next].words.toLowerCase()}`}
      className="flex-none rounded p-1.5 hover:bg-night"
      onClick={() => chooseTheme(next)}
    >
      <Icon size={15} aria-hidden="true" />
    </button>
  );
}
