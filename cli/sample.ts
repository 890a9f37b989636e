import { parseArgs } from 'node:util';
import { compile, sample, widthOf } from '../core/evaluate';
import { addressesOfNames } from './channel-names';
import { readLoudness } from './loudness-tables';
import { Misuse, readFrames, readShotFile } from './misuse';

/** Prints the values of channels at frames, as CSV or JSON. @throws Misuse */
export async function sampleCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      channels: { type: 'string' },
      frames: { type: 'string' },
      format: { type: 'string', default: 'csv' },
      loudness: { type: 'string' },
    },
  });
  const shot = await readShotFile(positionals[0]);
  if (!values.channels)
    throw new Misuse('Name the values wanted: --channels "Crown wheel.rotation.z,Boat 1.world"');
  if (values.format !== 'csv' && values.format !== 'json')
    throw new Misuse(`--format ${values.format} is not known: csv or json.`);
  const { from, to, step } = values.frames
    ? readFrames(values.frames)
    : { from: shot.setup.first, to: shot.setup.last, step: 1 };
  const plan = compile(shot, await readLoudness(shot, values.loudness));
  const asked = addressesOfNames(shot, values.channels);
  const names = asked.map(({ name }) => name);
  const addresses = asked.map(({ address }) => address);
  const table = sample(plan, addresses, from, to, step);
  const heads = addresses.flatMap((address, i) => {
    const width = widthOf(plan, address);
    return width === 1 ? [names[i]!] : Array.from({ length: width }, (_, j) => `${names[i]}[${j}]`);
  });
  const rows = Array.from(table.frames, (frame, i) => [
    frame,
    ...table.values.subarray(i * table.columns, (i + 1) * table.columns),
  ]);
  if (values.format === 'json')
    process.stdout.write(`${JSON.stringify({ columns: ['frame', ...heads], rows })}\n`);
  else
    process.stdout.write(
      `${['frame', ...heads.map((head) => (/[",\n]/.test(head) ? `"${head.replaceAll('"', '""')}"` : head))].join(',')}\n${rows.map((row) => row.join(',')).join('\n')}\n`,
    );
}
