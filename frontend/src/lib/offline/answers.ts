/** Answers that are kept for when there is no network: which, and under what name. */

/** Requests that ask and change nothing, though their question is too long for an address. */
const ASKING = [
  /^\/api\/(forecast|draft|heat|next|map|backward|fit|circuit|stopped|days|shore)$/,
  /^\/api\/setups\/\d+\/(launch|trim)$/,
];
/** Nothing of these may be kept: they go on, or are of this moment, or are whole files. */
const NEVER = [
  /\/live$/,
  /^\/api\/(health|network|pairing|searches|openapi|account|club)/,
  /\.(zip|gpx|csv|geojson|json)$/,
];
/** Upon which an answer depends besides its question. */
const HEADERS = ['units', 'lessons', 'share'];
const NAMED = 'https://kept.invalid';

/** When an answer was kept, as a header of it. */
export const KEPT = 'x-kunstflug-kept';

export function isAsking(method: string, path: string): boolean {
  if (!path.startsWith('/api/') || NEVER.some((one) => one.test(path))) return false;
  return method === 'GET' || (method === 'POST' && ASKING.some((one) => one.test(path)));
}

/** The name that an answer is kept under: the same for the same question in the same units, and for no other. */
export async function nameOf(request: Request): Promise<string> {
  const url = new URL(request.url);
  const body = request.method === 'POST' ? await request.clone().text() : '';
  const headers = HEADERS.map((name) => request.headers.get(name) ?? '').join('|');
  const text = new TextEncoder().encode(`${request.method} ${url.pathname}${url.search} ${headers} ${body}`);
  const hash = new Uint8Array(await crypto.subtle.digest('SHA-256', text));
  return `${NAMED}/${Array.from(hash, (b) => b.toString(16).padStart(2, '0')).join('')}`;
}
