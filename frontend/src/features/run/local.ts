/** Runs that wait on this device for the network. */
import type { RunItem, RunView, SetupView, TypedRun } from '$lib/api/client';
import type { Entry } from '$lib/offline/outbox';
import { iso } from '$lib/units/day';

/** A run that was made without network, as the server would show it; its number is negative until it is there. */
export function localRun(entry: Entry, setup: SetupView): RunView {
  const none = {
    summary: null,
    log: null,
    held: null,
    photo: false,
    damages: [],
    readings: [],
    observations: [],
    odd: [],
  };
  const typed = emptyRun();
  const { id: setup_id, boat_id, name: setup_name } = setup;
  return {
    id: -entry.n,
    setup_id,
    setup_name,
    boat_id,
    started_at: iso(entry.at),
    source: 'typed in',
    ...none,
    typed,
    conditions: {},
    note: '',
    tag: '',
  };
}

/** Where what is written of a run waits, so that a later writing takes the place of an earlier one. */
export function slotOf(run: RunView): string {
  return `notes.${run.id}`;
}

/** Where a run that is typed in is made. */
export function typedPath(setupId: number): string {
  return `/api/setups/${setupId}/runs/typed`;
}

/** A run as a line of the list. */
export function itemOf(run: RunView): RunItem {
  return { ...run, best_mps: null, duration_s: run.summary?.duration_s ?? null };
}

/** What is typed of a run of which nothing is typed yet. */
function emptyRun(): TypedRun {
  return {
    peaks: [],
    second: null,
    there: null,
    back: null,
    held_s: null,
    passes: null,
    minutes: null,
    feathered: null,
    current_a: null,
    rpm: null,
  } as unknown as TypedRun;
}
