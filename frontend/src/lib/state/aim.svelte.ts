/** What the boat on the sheet is for: duty, schools, wish. Kept with the boat, followed by every judgement. */
import { api, askTagged, type AimDocument, type Noise, type Quantity } from '$lib/api/client';
import { saveTagged } from '$lib/state/conflict.svelte';

export type Duty = {
  kind: 'passes' | 'lap_race' | 'tub_test';
  passes: number;
  pass_s: number;
  cool_s: number;
  minutes: number;
  /** Straight water there is [m]; null where nobody said. */
  pond_m: number | null;
};
export type Schools = {
  temperature: 'cautious' | 'hot';
  controller: 'sustained' | 'burst';
  rpm: 'low' | 'high';
  pack: 'doubting' | 'believing';
  /** Chance of passing a limit up to which it still holds. */
  risk: number;
};
export type Lock = 'motor' | 'propeller' | 'pack';

const USUAL_DUTY: Duty = { kind: 'passes', passes: 4, pass_s: 6, cool_s: 25, minutes: 4, pond_m: null };
const USUAL_SCHOOLS: Schools = {
  temperature: 'cautious',
  controller: 'sustained',
  rpm: 'low',
  pack: 'doubting',
  risk: 0.1,
};

export const SCHOOLS: { key: keyof Schools; question: string; options: [string | number, string][] }[] = [
  {
    key: 'temperature',
    question: 'Motor case limit',
    options: [
      ['cautious', '65 °C (cautious)'],
      ['hot', '88 °C (hot)'],
    ],
  },
  {
    key: 'controller',
    question: 'Controller rating',
    options: [
      ['sustained', 'continuous'],
      ['burst', 'burst'],
    ],
  },
  {
    key: 'rpm',
    question: 'Rotor speed limit',
    options: [
      ['low', 'usual'],
      ['high', '+25 %'],
    ],
  },
  {
    key: 'pack',
    question: 'Usable share of printed C',
    options: [
      ['doubting', '60 %'],
      ['believing', '85 %'],
    ],
  },
  {
    key: 'risk',
    question: 'Holds: past a limit at most',
    options: [
      [0.05, '1 in 20'],
      [0.1, '1 in 10'],
      [0.25, '1 in 4'],
    ],
  },
];

class Aim {
  boatId = $state<number | undefined>();
  duty = $state<Duty>({ ...USUAL_DUTY });
  schools = $state<Schools>({ ...USUAL_SCHOOLS });
  wanted = $state<Quantity | undefined>();
  leastMinutes = $state(0);
  locked = $state<Lock[]>([]);
  budget = $state<number | undefined>();
  /** The class of the club that the boat is raced in. */
  className = $state('');
  /** How loud it was measured to be, and how loud the law said it was as it was then. */
  noise = $state<Noise | undefined>();
  note = $state('');
  roomLength = $state<Quantity | undefined>();
  mostMass = $state<Quantity | undefined>();
  problem = $state('');
  private tag = '';
  private saving: Promise<void> = Promise.resolve();

  /** The class it is raced in and how loud it is, as every question about changes takes them. */
  get raced(): { class_name: string; noise: Noise | null } {
    return { class_name: this.className, noise: $state.snapshot(this.noise) ?? null };
  }

  /** Whether anybody said what the boat is for. */
  readonly stated = $derived(this.wanted !== undefined || this.leastMinutes > 0);

  async load(boatId: number): Promise<void> {
    if (this.boatId === boatId) return;
    const { data, tag } = await askTagged(
      api.GET('/api/boats/{boat_id}/aim', { params: { path: { boat_id: boatId } } }),
    );
    this.boatId = boatId;
    this.tag = tag;
    this.take(data);
  }

  private take(found: AimDocument): void {
    this.duty = { ...USUAL_DUTY, ...(found.duty as Partial<Duty>) };
    this.schools = { ...USUAL_SCHOOLS, ...(found.schools as Partial<Schools>) };
    this.wanted = (found.wanted as Quantity | null) ?? undefined;
    this.leastMinutes = found.least_minutes ?? 0;
    this.locked = (found.locked as Lock[] | undefined) ?? [];
    this.budget = found.budget ?? undefined;
    this.roomLength = (found.room_length as Quantity | null) ?? undefined;
    this.mostMass = (found.most_mass as Quantity | null) ?? undefined;
    this.className = found.class_name ?? '';
    this.noise = found.noise ?? undefined;
    this.note = found.note ?? '';
  }

  /** Saves what is said; a failure is told, and what was said stays. */
  async save(): Promise<void> {
    const boatId = this.boatId;
    if (boatId === undefined) return;
    const body = $state.snapshot({
      duty: this.duty,
      schools: this.schools,
      wanted: this.wanted ?? null,
      least_minutes: this.leastMinutes,
      locked: this.locked,
      budget: this.budget ?? null,
      room_length: this.roomLength ?? null,
      most_mass: this.mostMass ?? null,
      ...this.raced,
      note: this.note,
    }) as AimDocument;
    const save = async (tag: string): Promise<string> => {
      const params = { path: { boat_id: boatId }, header: { 'If-Match': tag } };
      return (await askTagged(api.PUT('/api/boats/{boat_id}/aim', { params, body }))).tag;
    };
    // One after the other: the second changes what the first has saved.
    await this.saving;
    this.saving = this.put(body, save);
    await this.saving;
  }

  private async put(body: AimDocument, save: (tag: string) => Promise<string>): Promise<void> {
    try {
      const tag = await saveTagged('what the boat is for', body, this.tag, save, (theirs, theirTag) => {
        this.take(theirs as AimDocument);
        this.tag = theirTag;
      });
      if (tag !== undefined) this.tag = tag;
      this.problem = '';
    } catch (error) {
      this.problem = (error as Error).message;
    }
  }
}

export const aim = new Aim();
