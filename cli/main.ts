import { BrokenMedia, NoDecoder } from '../decode';
import { Misuse } from './misuse';

type Command = (args: string[]) => Promise<number | void>;

/** Each is loaded when it is asked for: what draws a film takes a second to load. */
const COMMANDS: Readonly<Record<string, () => Promise<Command>>> = {
  sample: async () => (await import('./sample')).sampleCommand,
  check: async () => (await import('./check')).checkCommand,
  render: async () => (await import('./render')).renderCommand,
  loudness: async () => (await import('./loudness')).loudnessCommand,
  demo: async () => (await import('./demo')).demoCommand,
};

const [name = '', ...args] = process.argv.slice(2);
try {
  if (!Object.hasOwn(COMMANDS, name)) throw new Misuse(`There is no command "${name}".`);
  const command = await COMMANDS[name]!();
  process.exitCode = (await command(args)) ?? 0;
} catch (error) {
  const expected =
    error instanceof Misuse ||
    error instanceof BrokenMedia ||
    error instanceof NoDecoder ||
    error instanceof RangeError ||
    (error as { code?: string }).code?.startsWith('ERR_PARSE_ARGS');
  process.stderr.write(`${expected ? (error as Error).message : String((error as Error).stack ?? error)}\n`);
  process.exitCode = 2;
}
