/** Widths of what stands left and right of time, pixels, in Keys and in Curves; sounds above them keep to the same. */
export const KEYS_COLUMNS = { left: 216, right: 206 } as const;
export const CURVES_COLUMNS = { left: 216, right: 222 } as const;
