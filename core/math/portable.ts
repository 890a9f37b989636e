/**
 * Elementary functions that give the same bits in every JavaScript engine. `Math.sin`, `cos`, `exp`, `log` and
 * `pow` may differ in the last bit between engines, and then two machines would draw different pictures. These
 * use only + - * / and square root, which IEEE 754 fixes.
 *
 * Polynomials: the minimax kernels published with fdlibm (Sun Microsystems, 1993). Accuracy about 1 ulp for
 * |x| < 1e6, falling slowly beyond; every function returns NaN for NaN.
 */

const TWO_OVER_PI = 6.36619772367581382433e-1;
const PIO2_1 = 1.57079632673412561417;
const PIO2_2 = 6.0771005063039659766e-11;
const PIO2_3 = 2.0222662487111664558e-21;
const PIO2_3T = 8.47842766036889956997e-32;

function kernelSin(x: number): number {
  const z = x * x;
  const r =
    8.33333333332248946124e-3 +
    z *
      (-1.98412698298579493134e-4 +
        z * (2.75573137070700676789e-6 + z * (-2.50507602534068634195e-8 + z * 1.58969099521155010221e-10)));
  return x + x * z * (-1.66666666666666324348e-1 + z * r);
}

function kernelCos(x: number): number {
  const z = x * x;
  const r =
    z *
    (4.16666666666666019037e-2 +
      z *
        (-1.38888888888741095749e-3 +
          z *
            (2.48015872894767294178e-5 +
              z *
                (-2.75573143513906633035e-7 +
                  z * (2.0875723212981748279e-9 + z * -1.13596475577881948265e-11)))));
  const half = 0.5 * z;
  const w = 1 - half;
  return w + (1 - w - half + z * r);
}

/** Sine of an angle in radians. */
export function sin(x: number): number {
  const n = Math.round(x * TWO_OVER_PI);
  const r = x - n * PIO2_1 - n * PIO2_2 - n * PIO2_3 - n * PIO2_3T;
  switch (((n % 4) + 4) % 4) {
    case 0:
      return kernelSin(r);
    case 1:
      return kernelCos(r);
    case 2:
      return -kernelSin(r);
    case 3:
      return -kernelCos(r);
    default:
      return NaN;
  }
}

/** Cosine of an angle in radians. */
export function cos(x: number): number {
  const n = Math.round(x * TWO_OVER_PI);
  const r = x - n * PIO2_1 - n * PIO2_2 - n * PIO2_3 - n * PIO2_3T;
  switch (((n % 4) + 4) % 4) {
    case 0:
      return kernelCos(r);
    case 1:
      return -kernelSin(r);
    case 2:
      return -kernelCos(r);
    case 3:
      return kernelSin(r);
    default:
      return NaN;
  }
}

/** Tangent of an angle in radians. */
export function tan(x: number): number {
  return sin(x) / cos(x);
}

const RAD_PER_DEG = Math.PI / 180;

/** Sine of an angle in degrees; exact at multiples of 90. */
export function sinDeg(degrees: number): number {
  const turn = degrees - 360 * Math.floor(degrees / 360);
  if (turn === 0 || turn === 180) return 0;
  if (turn === 90) return 1;
  if (turn === 270) return -1;
  return sin(turn * RAD_PER_DEG);
}

/** Cosine of an angle in degrees; exact at multiples of 90. */
export function cosDeg(degrees: number): number {
  const turn = degrees - 360 * Math.floor(degrees / 360);
  if (turn === 90 || turn === 270) return 0;
  if (turn === 0) return 1;
  if (turn === 180) return -1;
  return cos(turn * RAD_PER_DEG);
}

/**
 * Writes sine and cosine of the angle in degrees that stands in `from` at `fromAt`, at `at` and `at + 1` of `out`: the
 * same bits as `sinDeg` and `cosDeg` give, in one go. Numbers stay in arrays, since a call with a number that is no
 * small integer would make it on the heap.
 */
export function sinCosDeg(out: Float64Array, at: number, from: Float64Array, fromAt: number): void {
  const degrees = from[fromAt]!;
  const turn = degrees - 360 * Math.floor(degrees / 360);
  if (turn === 0 || turn === 90 || turn === 180 || turn === 270) {
    out[at] = turn === 90 ? 1 : turn === 270 ? -1 : 0;
    out[at + 1] = turn === 0 ? 1 : turn === 180 ? -1 : 0;
    return;
  }
  const x = turn * RAD_PER_DEG;
  const n = Math.round(x * TWO_OVER_PI);
  const r = x - n * PIO2_1 - n * PIO2_2 - n * PIO2_3 - n * PIO2_3T;
  if (!(n >= 0)) {
    out[at] = NaN;
    out[at + 1] = NaN;
    return;
  }
  const s = kernelSin(r);
  const c = kernelCos(r);
  const quadrant = n & 3;
  const swapped = (quadrant & 1) === 1;
  const sine = swapped ? c : s;
  const cosine = swapped ? s : c;
  out[at] = quadrant > 1 ? -sine : sine;
  out[at + 1] = quadrant === 1 || quadrant === 2 ? -cosine : cosine;
}

const ATAN_HI = [
  4.63647609000806093515e-1, 7.85398163397448278999e-1, 9.82793723247329054082e-1, 1.570796326794896558,
];
const ATAN_LO = [
  2.26987774529616870924e-17, 3.06161699786838301793e-17, 1.39033110312309984516e-17,
  6.12323399573676603587e-17,
];
const ATAN_T = [
  3.33333333333329318027e-1, -1.99999999998764832476e-1, 1.42857142725034663711e-1, -1.1111110405462355788e-1,
  9.09088713343650656196e-2, -7.69187620504482999495e-2, 6.66107313738753120669e-2,
  -5.83357013379057348645e-2, 4.97687799461593236017e-2, -3.6531572744216915527e-2, 1.62858201153657823623e-2,
] as const;

/** Inverse tangent in radians, in [-pi/2, pi/2]. */
export function atan(value: number): number {
  if (Number.isNaN(value)) return NaN;
  const size = Math.abs(value);
  if (size >= 1e17) return value > 0 ? Math.PI / 2 : -Math.PI / 2;
  let x = size;
  let id = -1;
  if (size >= 0.4375) {
    if (size < 0.6875) {
      id = 0;
      x = (2 * size - 1) / (2 + size);
    } else if (size < 1.1875) {
      id = 1;
      x = (size - 1) / (size + 1);
    } else if (size < 2.4375) {
      id = 2;
      x = (size - 1.5) / (1 + 1.5 * size);
    } else {
      id = 3;
      x = -1 / size;
    }
  }
  const z = x * x;
  const w = z * z;
  const t = ATAN_T;
  const s1 = z * (t[0] + w * (t[2] + w * (t[4] + w * (t[6] + w * (t[8] + w * t[10])))));
  const s2 = w * (t[1] + w * (t[3] + w * (t[5] + w * (t[7] + w * t[9]))));
  const result = id < 0 ? x - x * (s1 + s2) : (ATAN_HI[id] ?? 0) - (x * (s1 + s2) - (ATAN_LO[id] ?? 0) - x);
  return value < 0 ? -result : result;
}

/** Angle in radians of the point (x, y), in (-pi, pi]; 0 for the origin. */
export function atan2(y: number, x: number): number {
  if (Number.isNaN(x) || Number.isNaN(y)) return NaN;
  if (x === 0 && y === 0) return 0;
  if (x === 0) return y > 0 ? Math.PI / 2 : -Math.PI / 2;
  const base = atan(y / x);
  if (x > 0) return base;
  return y >= 0 ? base + Math.PI : base - Math.PI;
}

/** Inverse sine in radians; NaN outside [-1, 1]. */
export function asin(x: number): number {
  if (!(x >= -1 && x <= 1)) return NaN;
  return atan2(x, Math.sqrt((1 - x) * (1 + x)));
}

/** Inverse cosine in radians; NaN outside [-1, 1]. */
export function acos(x: number): number {
  if (!(x >= -1 && x <= 1)) return NaN;
  return 2 * atan2(Math.sqrt(1 - x), Math.sqrt(1 + x));
}

const LN2_HI = 6.9314718036912381649e-1;
const LN2_LO = 1.90821492927058770002e-10;
const INV_LN2 = 1.442695040888963387;

function scaleByPowerOfTwo(x: number, exponent: number): number {
  let result = x;
  let k = exponent;
  while (k > 1000) {
    result *= 2 ** 1000;
    k -= 1000;
  }
  while (k < -1000) {
    result *= 2 ** -1000;
    k += 1000;
  }
  // A literal power of two is exact in every engine.
  let factor = 1;
  const step = k < 0 ? 0.5 : 2;
  for (let i = Math.abs(k); i > 0; i--) factor *= step;
  return result * factor;
}

/** e to the power x. */
export function exp(x: number): number {
  if (Number.isNaN(x)) return NaN;
  if (x > 709.782712893384) return Infinity;
  if (x < -745.1332191019412) return 0;
  const k = Math.round(x * INV_LN2);
  const hi = x - k * LN2_HI;
  const lo = k * LN2_LO;
  const r = hi - lo;
  const t = r * r;
  const c =
    r -
    t *
      (1.66666666666666019037e-1 +
        t *
          (-2.77777777770155933842e-3 +
            t *
              (6.61375632143793436117e-5 + t * (-1.6533902205465251539e-6 + t * 4.13813679705723846039e-8))));
  const y = 1 - (lo - (r * c) / (2 - c) - hi);
  return scaleByPowerOfTwo(y, k);
}

/** Natural logarithm; -Infinity for 0, NaN below. */
export function log(x: number): number {
  if (Number.isNaN(x) || x < 0) return NaN;
  if (x === 0) return -Infinity;
  if (x === Infinity) return Infinity;
  let m = x;
  let k = 0;
  while (m >= 4294967296) {
    m /= 4294967296;
    k += 32;
  }
  while (m < 1 / 4294967296) {
    m *= 4294967296;
    k -= 32;
  }
  while (m >= Math.SQRT2) {
    m /= 2;
    k += 1;
  }
  while (m < Math.SQRT1_2) {
    m *= 2;
    k -= 1;
  }
  const f = m - 1;
  const s = f / (2 + f);
  const z = s * s;
  const w = z * z;
  const t1 = w * (3.999999999940941908e-1 + w * (2.222219843214978396e-1 + w * 1.531383769920937332e-1));
  const t2 =
    z *
    (6.66666666666673513e-1 +
      w * (2.857142874366239149e-1 + w * (1.818357216161805012e-1 + w * 1.479819860511658591e-1)));
  const r = t1 + t2;
  const half = 0.5 * f * f;
  return k * LN2_HI - (half - (s * (half + r) + k * LN2_LO) - f);
}

/**
 * x to the power y. Whole exponents up to 1024 are multiplied out; a negative base with another exponent is
 * NaN; `pow(x, 0) = 1` for every x.
 */
export function pow(x: number, y: number): number {
  if (y === 0) return 1;
  if (Number.isNaN(x) || Number.isNaN(y)) return NaN;
  if (Number.isInteger(y) && Math.abs(y) <= 1024) {
    let result = 1;
    let base = x;
    for (let n = Math.abs(y); n > 0; n = Math.floor(n / 2)) {
      if (n % 2 === 1) result *= base;
      base *= base;
    }
    return y < 0 ? 1 / result : result;
  }
  if (y === 0.5) return Math.sqrt(x);
  if (x === 0) return y > 0 ? 0 : Infinity;
  if (x < 0) {
    if (!Number.isInteger(y)) return NaN;
    const size = exp(y * log(-x));
    return y % 2 === 0 ? size : -size;
  }
  return exp(y * log(x));
}

/** Square root of the sum of squares, without overflow in between for the sizes a scene has. */
export function hypot(x: number, y: number, z = 0): number {
  return Math.sqrt(x * x + y * y + z * z);
}
