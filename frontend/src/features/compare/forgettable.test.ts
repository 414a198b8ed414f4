import { expect, it } from 'vitest';

import type { Knowledge } from '$lib/api/client';

import { forgettable } from './forgettable';

const number = (owner: string, runs: string[]) => ({ of: owner.toLowerCase(), owner, runs });
const known = (numbers: object[], judged: number[]) =>
  ({ numbers, judged: judged.map((run_id) => ({ run_id })) }) as unknown as Knowledge;

it('offers the boat and each part with the runs that had it aboard', () => {
  const found = forgettable(
    known(
      [
        number('Motor', ['3', '12']),
        number('Motor', ['3', '12']),
        number('Propeller', ['12']),
        number('Model', ['3', '12']),
        number('Hull', ['3', '12']),
      ],
      [3, 12],
    ),
  );
  expect(found).toEqual([
    { name: 'This boat', runs: [3, 12] },
    { name: 'Motor', runs: [3, 12] },
    { name: 'Propeller', runs: [12] },
  ]);
});

it('offers a motor that another boat taught, and no boat that never ran', () => {
  expect(forgettable(known([number('Motor', ['7']), number('Pack', [])], []))).toEqual([{ name: 'Motor', runs: [7] }]);
});
