/** The days of a year, by the browser's own calendar. */
const DAY_MS = 86_400_000;
const NAME = new Intl.DateTimeFormat('en-GB', { month: 'short', timeZone: 'UTC' });
/** A year without a leap day stands for all. */
const ANY = 2026;

/** Day of the year of a date as documents write it, from 1. */
export function dayOfYear(date: string): number {
  const at = new Date(`${date}T00:00:00Z`);
  return Math.round((at.getTime() - Date.UTC(at.getUTCFullYear(), 0, 1)) / DAY_MS) + 1;
}

/** A day of the year as a date; the year means nothing. */
export function dateOf(day: number): string {
  return new Date(Date.UTC(ANY, 0, day)).toISOString().slice(0, 10);
}

/** First day and short name of each month. */
export const MONTHS = Array.from({ length: 12 }, (_, k): [day: number, words: string] => {
  const first = new Date(Date.UTC(ANY, k, 1));
  return [dayOfYear(first.toISOString().slice(0, 10)), NAME.format(first)];
});
