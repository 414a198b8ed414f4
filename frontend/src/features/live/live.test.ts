import { describe, expect, it, vi } from 'vitest';

import type { Live } from '$lib/api/client';

import { alarm, LiveState } from './live.svelte';

const told = (advice: Live['advice'], link = 'there'): Live => ({ advice, link, words: advice, places: [] }) as never;

describe('live', () => {
  it('raises its voice once when it is time to lift or to come in', () => {
    expect(alarm('come_in', 'drive')).toEqual({ hz: 880, times: 3 });
    expect(alarm('come_in', 'come_in')).toBeUndefined();
    expect(alarm('lift', 'drive')?.times).toBe(2);
    expect(alarm('cool_down', 'drive')).toBeUndefined();
    expect(alarm('drive', undefined)).toBeUndefined();
  });

  it('vibrates with it, once', () => {
    const felt = vi.fn();
    vi.stubGlobal('navigator', { vibrate: felt });
    const live = new LiveState();
    live.sound = false;
    live.take(told('drive'));
    expect(felt).not.toHaveBeenCalled();
    live.take(told('come_in'));
    live.take(told('come_in'));
    expect(felt).toHaveBeenCalledTimes(1);
    live.take(told('come_in', 'lost'));
    expect(felt).toHaveBeenCalledTimes(1);
    expect(live.told?.link).toBe('lost');
    live.stop();
    vi.unstubAllGlobals();
  });
});
