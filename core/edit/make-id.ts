const LETTERS = 'abcdefghijklmnopqrstuvwxyz0123456789';
const LENGTH = 10;

/** A fresh id such as `prt_k3x9...`. Pass a seeded `random` where ids must repeat. */
export function makeId(
  prefix:
    | 'prt'
    | 'shp'
    | 'lok'
    | 'dia'
    | 'key'
    | 'snd'
    | 'clp'
    | 'plc'
    | 'rcp'
    | 'try'
    | 'mrk'
    | 'pin'
    | 'con',
  random: () => number = Math.random,
): string {
  let text = '';
  for (let i = 0; i < LENGTH; i++) text += LETTERS[Math.floor(random() * LETTERS.length)];
  return `${prefix}_${text}`;
}
