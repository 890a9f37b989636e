import { readFileSync, writeFileSync } from 'node:fs';
import opentype from 'opentype.js';
import { fontNamed, lineOutline } from '../core/lettering';

/** Draws the words of the callouts of the demo shots in the font that callouts begin with: `npm run demo:words`. */
const WORDS = ['1  Crank', '2  Pinion', '3  Wheel', '4  Ratchet', '5  Pawl', '6  Drum', '7  Cheeks'];
const FONT = `node_modules/${fontNamed('oswald').file}`;
const DIGITS = 3;

const bytes = readFileSync(FONT);
const font = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
const rounded = (_name: string, value: unknown): unknown =>
  typeof value === 'number' ? Number(value.toFixed(DIGITS)) : value;
writeFileSync(
  'demo/callout-words.json',
  `${JSON.stringify(Object.fromEntries(WORDS.map((words) => [words, lineOutline(words, font)])), rounded)}\n`,
);
