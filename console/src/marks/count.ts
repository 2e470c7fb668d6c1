/** A whole number with its thousands parted. */
export const count = (value: number): string => value.toLocaleString('en');

/** «1 warning», «12 warnings». */
export const counted = (value: number, one: string, many: string): string =>
  `${count(value)} ${value === 1 ? one : many}`;

export function share(part: number, whole: number): string {
  if (whole === 0) return '–';
  const percent = (part / whole) * 100;
  return percent > 0 && percent < 0.1 ? '<0.1 %' : `${percent.toFixed(1)} %`;
}
