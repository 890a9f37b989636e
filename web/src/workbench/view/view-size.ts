export interface Size {
  readonly width: number;
  readonly height: number;
}

export interface Area extends Size {
  readonly left: number;
  readonly top: number;
}

export const FINDER_BAR = 24;
const FINDER_WIDTH = 262;
const FINDER_LARGE = 0.62;
const MARGIN = 10;

/** Rectangle with given proportions, as large as fits in the middle of a size. */
export function fitted(size: Size, aspect: number): Area {
  const width = Math.min(size.width, size.height * aspect);
  const height = width / aspect;
  return { left: (size.width - width) / 2, top: (size.height - height) / 2, width, height };
}

/** Where the viewfinder's picture lies in the view. */
export function finderArea(size: Size, aspect: number, large: boolean): Area {
  const most = large ? size.width * FINDER_LARGE : Math.min(FINDER_WIDTH, size.width * 0.45);
  const height = Math.min(most / aspect, size.height * (large ? 0.82 : 0.6));
  const width = height * aspect;
  return {
    left: size.width - width - MARGIN,
    top: size.height - height - FINDER_BAR - MARGIN,
    width,
    height,
  };
}
