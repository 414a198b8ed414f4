/** Conversions of the bench: one value in every unit of its kind. Factors as in the core. */
export const CONVERSIONS: Record<string, [string, number, number?][]> = {
  power: [
    ['W', 1],
    ['kW', 1000],
    ['hp', 745.6998715822702],
  ],
  temperature: [
    ['°C', 1],
    ['°F', 5 / 9, -32],
    ['K', 1, -273.15],
  ],
  length: [
    ['mm', 1e-3],
    ['cm', 1e-2],
    ['in', 0.0254],
    ['1/64 in', 0.0254 / 64],
  ],
  speed: [
    ['km/h', 1 / 3.6],
    ['mph', 0.44704],
    ['m/s', 1],
    ['kn', 1852 / 3600],
  ],
  torque: [
    ['Nm', 1],
    ['Ncm', 0.01],
    ['ozf in', 0.0070615518333333],
  ],
};

/** A value of one unit in all units of its kind. */
export function converted(kind: string, value: number, unit: string): [string, number][] {
  const units = CONVERSIONS[kind] ?? [];
  const from = units.find(([name]) => name === unit);
  if (!from) return [];
  const si = (value + (from[2] ?? 0)) * from[1];
  return units.map(([name, factor, offset]) => [name, si / factor - (offset ?? 0)]);
}
