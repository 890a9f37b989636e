declare module 'culori' {
  type Oklab = { mode: 'oklab'; l: number; a: number; b: number };
  export function converter(
    mode: 'oklab',
  ): (colour: { mode: 'lrgb'; r: number; g: number; b: number }) => Oklab;
}
