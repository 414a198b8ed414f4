/** What a knob is told: where it stands, where it stood, and how far it goes. */
import type { Quantity } from '$lib/api/client';

export type KnobSpec = {
  path: string;
  label: string;
  value: Quantity | number;
  saved: Quantity | number;
  reach: [number, number];
  step: number;
  allowed?: [number, number] | undefined;
};
