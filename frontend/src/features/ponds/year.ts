/** The days of a year: where a month begins, on which day of it a date lies. */
const NAMES = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const FIRST = [1, 32, 60, 91, 121, 152, 182, 213, 244, 274, 305, 335];

/** First day and short name of each month. */
export const MONTHS: [day: number, words: string][] = NAMES.map((words, k) => [FIRST[k] ?? 1, words]);

/** Day of the year of a date as documents write it, from 1. */
export function dayOfYear(date: string): number {
  const at = new Date(`${date}T00:00:00Z`);
  return Math.round((at.getTime() - Date.UTC(at.getUTCFullYear(), 0, 1)) / 86_400_000) + 1;
}

/** A day of the year, as part of its month. */
export function monthOf(day: number): string {
  const k = FIRST.findLastIndex((first) => first <= day);
  return `${day - (FIRST[k] ?? 1) < 10 ? 'early' : day - (FIRST[k] ?? 1) < 20 ? 'mid' : 'late'} ${NAMES[k] ?? ''}`;
}
