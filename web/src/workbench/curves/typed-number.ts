/** A number as it is typed, with a comma or a point and whatever unit after it; `null` where it is none. */
export const readNumber = (text: string): number | null => {
  const number = Number(text.replace(',', '.').replace(/[^0-9.+-eE]+$/, ''));
  return text.trim() !== '' && Number.isFinite(number) ? number : null;
};
