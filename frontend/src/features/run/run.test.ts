import { describe, expect, it } from 'vitest';

import type { RunView } from '$lib/api/client';

import { bodyOf, emptyNotes, notesOf } from './notes';

const ORDER = ['controller', 'motor front', 'pack'];

describe('notes of a run', () => {
  it('sends only what was written, in its unit', () => {
    const notes = emptyNotes(ORDER, 'imperial');
    notes.water = '61';
    notes.readings[1] = { place: 'motor front', value: '118', unit: 'degF', minutes: '2' };
    const { body, wrong } = bodyOf(notes);
    expect(wrong).toEqual([]);
    expect(body.readings).toEqual([
      { place: 'motor front', typed: { value: 118, unit: 'degF', source: 'measured' }, minutes_after: 2 },
    ]);
    expect(body.conditions).toMatchObject({
      water: { value: 61, unit: 'degF', source: 'measured' },
      air: undefined,
    });
  });

  it('names what is no number instead of dropping it', () => {
    const notes = emptyNotes(ORDER, 'metric');
    notes.readings[0]!.value = 'hot';
    expect(bodyOf(notes).wrong).toEqual(["controller 'hot'"]);
  });

  it('shows a saved run as it was typed', () => {
    const run = {
      conditions: { air: { value: 70, unit: 'degF', source: 'measured' }, wind_from_deg: 240, water_state: 'ripples' },
      note: 'calm after four',
      observations: ['runs wet'],
      readings: [{ place: 'pack', typed: { value: 95, unit: 'degF' }, celsius: 35, minutes_after: 3 }],
    } as unknown as RunView;
    const notes = notesOf(run, ORDER, 'metric');
    expect(notes.temperatureUnit).toBe('degF');
    expect(notes.air).toBe('70');
    expect(notes.readings[2]).toEqual({ place: 'pack', value: '95', unit: 'degF', minutes: '3' });
    // and back: nothing is lost on the way
    expect(bodyOf(notes).body.readings).toHaveLength(1);
  });
});
