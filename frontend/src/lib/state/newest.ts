/**
 * Keeps one request in the air and only the newest waiting, so that a slider is followed as fast as answers come and a
 * late answer never overtakes a newer one.
 */
export class Newest<Request, Answer> {
  private waiting: { request: Request } | undefined;
  private busy = false;
  private sequence = 0;
  private running: Promise<void> = Promise.resolve();

  constructor(
    private readonly send: (request: Request) => Promise<Answer>,
    private readonly done: (answer: Answer, request: Request) => void,
    private readonly failed: (error: unknown, request: Request) => void,
  ) {}

  ask(request: Request): void {
    this.waiting = { request };
    if (!this.busy) this.running = this.run();
  }

  /** Answers still on their way are dropped. */
  drop(): void {
    this.sequence += 1;
    this.waiting = undefined;
  }

  /** Waits until nothing is in the air: what is shown then is what was asked for last. */
  settled(): Promise<void> {
    return this.running;
  }

  private async run(): Promise<void> {
    this.busy = true;
    while (this.waiting) {
      const { request } = this.waiting;
      const sequence = ++this.sequence;
      this.waiting = undefined;
      try {
        const answer = await this.send(request);
        if (sequence === this.sequence) this.done(answer, request);
      } catch (error) {
        if (sequence === this.sequence) this.failed(error, request);
      }
    }
    this.busy = false;
  }
}
