/** Which guess of the drive a racer can measure, and as which field of the document. */
import type { SetupDocument } from '$lib/api/client';

type Measurable = { path: string; unit: string; label: string };

export function measurable(parameter: string, document: SetupDocument): Measurable | undefined {
  switch (parameter) {
    case 'winding_resistance_ohm':
      return { path: 'motor.resistance', unit: 'mohm', label: 'between two motor leads, cold' };
    case 'no_load_current_a':
      return {
        path: 'motor.no_load_current',
        unit: 'A',
        label: `without a propeller, on ${document.pack.cells} cells`,
      };
    case 'pack_resistance_ohm':
      return { path: 'pack.cell_resistance', unit: 'mohm', label: 'one cell, from the charger' };
    case 'controller_resistance_ohm':
      return { path: 'controller.resistance', unit: 'mohm', label: 'from pack leads to motor leads' };
    case 'appendage_area_m2':
      return { path: 'hull.appendage_area', unit: 'cm2', label: 'wetted area x drag coefficient' };
    case 'blade_area':
      return { path: 'propeller.area_ratio', unit: '1', label: 'blade area over disc area' };
    case 'immersion':
      return { path: 'propeller.immersion', unit: '%', label: 'part of the turn under water' };
    default:
      return undefined;
  }
}
