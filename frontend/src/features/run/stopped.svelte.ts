/** Who may have stopped a boat, weighed by the server as signs and swaps come in. */
import { api, ask, type Schemas, type StoppedAnswer } from '$lib/api/client';
import { Newest } from '$lib/state/newest';

export type Stopped = Required<Schemas['StoppedIn']>;

export class Suspects {
  answer = $state.raw<StoppedAnswer | undefined>();

  private readonly newest = new Newest<Stopped, StoppedAnswer>(
    (stopped) => ask(api.POST('/api/stopped', { body: stopped })),
    (answer) => (this.answer = answer),
    () => undefined, // what is written is kept all the same; the next tap asks again
  );

  weigh(stopped: Stopped): void {
    this.newest.ask(stopped);
  }
}
