/** Answers that are kept for when there is no network: which, under what name, and for how many. */

/** Requests that ask and change nothing, though their question is too long for an address. */
const ASKING = [
  /^\/api\/(forecast|draft|heat|next|map|backward|fit|circuit|stopped|days|shore)$/,
  /^\/api\/setups\/\d+\/(launch|trim)$/,
];
/** Nothing of these may be kept: they go on, or are of this moment, or are whole files. */
const NEVER = [/\/live$/, /^\/api\/(health|network|pairing|searches|openapi)/, /\.(zip|gpx|csv|geojson|json)$/];
/** Upon which an answer depends besides its question. */
const HEADERS = ['units', 'boat', 'runs'];
const NAMED = 'https://kept.invalid';

/** When an answer was kept, as a header of it. */
export const KEPT = 'x-kunstflug-kept';
export const MOST_KEPT = 600;
/** So long an answer is waited for that was given before. */
const PATIENCE_MS = 5000;

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

/** The answer of the network, kept; without network the one that was kept, with when that was. */
export async function answered(
  request: Request,
  cache: Pick<Cache, 'match' | 'put'>,
  ask: (request: Request) => Promise<Response>,
  now: () => Date = () => new Date(),
  patience = PATIENCE_MS,
): Promise<Response> {
  const name = await nameOf(request);
  const patient = ask(request);
  try {
    // A network that is there and carries nothing is as good as none, where there is something to show.
    const answer = await Promise.race([patient, late(patience)]);
    if (!answer) {
      patient.then((last) => (last.ok ? keep(cache, name, last.clone(), now()) : undefined)).catch(() => undefined);
      return (await cache.match(name)) ?? (await patient);
    }
    if (answer.ok && answer.status === 200) await keep(cache, name, answer.clone(), now());
    // A program that is being started again is as good as none.
    if (answer.status !== 502 && answer.status !== 503) return answer;
    return (await cache.match(name)) ?? answer;
  } catch (error) {
    const found = await cache.match(name);
    if (found) return found;
    throw error;
  }
}

function late(ms: number): Promise<undefined> {
  return new Promise((resolve) => setTimeout(() => resolve(undefined), ms));
}

async function keep(cache: Pick<Cache, 'put'>, name: string, answer: Response, at: Date): Promise<void> {
  const headers = new Headers(answer.headers);
  headers.set(KEPT, at.toISOString());
  try {
    await cache.put(name, new Response(await answer.blob(), { status: 200, headers }));
  } catch {
    // No room: what was kept before stays, and the answer goes on to whoever asked.
  }
}
