import { type MotionReport, type MotionSubject } from './motion';

export const MEASURES = ['value', 'speed', 'acceleration', 'jerk'] as const;

/** Rows between two whole frames are left out of a table. */
const WHOLE = 1e-9;

const quoted = (text: string): string => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

/**
 * A report as CSV (RFC 4180): a row for each whole frame.
 * @param nameOf name of a subject, with its unit @param driver name of what it is told over
 * @param scaleOf what house numbers of a subject are multiplied by
 */
export function reportCsv(
  report: MotionReport,
  nameOf: (subject: MotionSubject) => string,
  scaleOf: (subject: MotionSubject) => number,
  driver: string | null,
): string {
  const heads = [
    'frame',
    ...(driver !== null && report.driver ? [driver] : []),
    ...report.subjects.flatMap(({ subject }) => MEASURES.map((measure) => `${nameOf(subject)} ${measure}`)),
  ];
  const lines = [heads.map(quoted).join(',')];
  report.frames.forEach((frame, i) => {
    if (Math.abs(frame - Math.round(frame)) > WHOLE) return;
    const numbers = [
      Math.round(frame),
      ...(driver !== null && report.driver ? [report.driver[i]!] : []),
      ...report.subjects.flatMap(({ subject, curves }) =>
        curves.map(({ values }) => values[i]! * scaleOf(subject)),
      ),
    ];
    lines.push(numbers.map((value) => String(Number(value.toPrecision(10)))).join(','));
  });
  return `${lines.join('\r\n')}\r\n`;
}
