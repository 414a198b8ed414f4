/** Days as one reads them: 3 May 2026, never 5/3 or 3/5. */
const LONG = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
const SHORT = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });

export function day(moment: string): string {
  return LONG.format(new Date(moment));
}

export function shortDay(moment: string): string {
  return SHORT.format(new Date(moment));
}

const CLOCK = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

export function clock(at: string | number): string {
  return CLOCK.format(new Date(at));
}

const MOMENT = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

export function moment(at: string): string {
  return MOMENT.format(new Date(at));
}

const DATE = new Intl.DateTimeFormat('sv-SE'); // that country writes dates as the standard has them

/** The date of a moment where the racer is, as documents write it. */
export function today(now = Date.now()): string {
  return DATE.format(now);
}

/** A moment as documents write it. */
export function iso(at: number): string {
  return new Date(at).toISOString();
}

/** Minutes and seconds as a stopwatch shows them. */
export function stopwatch(seconds: number): string {
  return `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;
}
