import { describe, expect, it } from 'vitest';

import { Newest } from './newest';

function later<T>(): { promise: Promise<T>; resolve: (value: T) => void; reject: (error: unknown) => void } {
  let resolve!: (value: T) => void;
  let reject!: (error: unknown) => void;
  const promise = new Promise<T>((yes, no) => {
    resolve = yes;
    reject = no;
  });
  return { promise, resolve, reject };
}

const tick = () => new Promise((resolve) => setTimeout(resolve, 0));

describe('Newest', () => {
  it('sends the first, skips what was overtaken, sends the last', async () => {
    const sent: number[] = [];
    const answers = [later<string>(), later<string>()];
    const got: string[] = [];
    const newest = new Newest<number, string>(
      (n) => {
        sent.push(n);
        return answers[sent.length - 1]!.promise;
      },
      (answer) => got.push(answer),
      () => undefined,
    );
    newest.ask(1);
    newest.ask(2);
    newest.ask(3);
    answers[0]!.resolve('one');
    await tick();
    answers[1]!.resolve('three');
    await tick();
    expect(sent).toEqual([1, 3]);
    expect(got).toEqual(['one', 'three']);
  });

  it('drops an answer after drop()', async () => {
    const answer = later<string>();
    const got: string[] = [];
    const newest = new Newest<number, string>(
      () => answer.promise,
      (a) => got.push(a),
      () => undefined,
    );
    newest.ask(1);
    newest.drop();
    answer.resolve('late');
    await tick();
    expect(got).toEqual([]);
  });

  it('is settled only when the last answer is there', async () => {
    const got: number[] = [];
    const newest = new Newest<number, number>(
      (n) => new Promise((resolve) => setTimeout(() => resolve(n), 5)),
      (n) => got.push(n),
      () => undefined,
    );
    newest.ask(1);
    newest.ask(2);
    await newest.settled();
    expect(got).toEqual([1, 2]);
  });

  it('goes on after a failure', async () => {
    const errors: unknown[] = [];
    const got: number[] = [];
    const newest = new Newest<number, number>(
      (n) => (n === 1 ? Promise.reject(new Error('no')) : Promise.resolve(n)),
      (a) => got.push(a),
      (e) => errors.push(e),
    );
    newest.ask(1);
    await tick();
    newest.ask(2);
    await tick();
    expect(errors).toHaveLength(1);
    expect(got).toEqual([2]);
  });
});
