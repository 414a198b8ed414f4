/** Files that are taken in: which of them ask something first, and what is sent with them. */
import { Once } from '$lib/api/once';
import { api, ask, asForm, binary, Problem, type CsvLook, type CsvMapping, type RunView } from '$lib/api/client';

/** What the racer says of a file beside handing it over. */
export type Said = { acceptDamage?: boolean; track?: number; mapping?: CsvMapping };
/** A file that asks something: it is damaged, or has several tracks. */
export type Offer = { file: File; said: Said; problem: Problem };
/** A CSV file whose columns have to be looked at. */
export type Looked = { file: File; look: CsvLook };

/** Names by which a file is a table, or may be one. */
export const CSV = /\.(csv|tsv)(\.gz)?$/i;
export const TEXT = /\.(csv|tsv|txt|log|dat)$/i;
/** What is said of a text that is no track. */
export const UNKNOWN = /not GPX/;

/** What was found of a file's columns, as it is sent. */
export function mappingOf(look: CsvLook, kind: CsvMapping['kind']): CsvMapping {
  const columns = look.columns.flatMap(({ role, unit }, column) => (role ? [{ column, role, unit }] : []));
  return { kind, columns };
}

/** A CSV file at a glance: its columns as they are proposed. */
export function lookAt(file: File, setupId: number | undefined): Promise<CsvLook> {
  const params = { query: setupId ? { setup_id: setupId } : {} };
  return ask(api.POST('/api/csv/look', { params, body: { file: binary(file) }, bodySerializer: asForm }));
}

/** Hands a file over: a track makes a run of the setup, a log goes to the run on the sheet. */
export function send(
  file: File,
  { acceptDamage = false, track, mapping }: Said,
  to: { setupId: number; runId: number | undefined; once: Once },
): Promise<RunView> {
  const json = mapping && JSON.stringify(mapping);
  if (mapping?.kind === 'log' || mapping?.kind === 'charge') {
    if (!to.runId)
      throw new Problem({ detail: 'A log belongs to a run: take in its track first, or type in the run.' });
    const params = { path: { run_id: to.runId } };
    const body = { file: binary(file), mapping: json ?? '' };
    if (mapping.kind === 'charge')
      return ask(api.POST('/api/runs/{run_id}/charge-log', { params, body, bodySerializer: asForm }));
    const sent = { ...body, accept_damage: acceptDamage };
    return ask(api.POST('/api/runs/{run_id}/controller-log', { params, body: sent, bodySerializer: asForm }));
  }
  const header = to.once.header([to.setupId, file.name, file.size, file.lastModified, acceptDamage, track, json]);
  const body = {
    file: binary(file),
    accept_damage: acceptDamage,
    ...(track === undefined ? {} : { track }),
    ...(json ? { mapping: json } : {}),
  };
  const params = { path: { setup_id: to.setupId }, header };
  return ask(api.POST('/api/setups/{setup_id}/runs', { params, body, bodySerializer: asForm }));
}
