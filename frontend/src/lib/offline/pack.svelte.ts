/** What a boat's screens need at the pond, asked for while there is network, so that the page's worker keeps it. */

/** So long a worker may take to be set up. */
const COMES_MS = 30_000;

type Taken = { setupId: number; at: number };

class Pack {
  /** The setup that was last taken along, and when. */
  taken = $state.raw<Taken | undefined>();
  busy = $state(false);
  private how: ((setupId: number) => Promise<void>) | undefined;

  /** Told by whoever knows the screens. */
  by(how: (setupId: number) => Promise<void>): void {
    this.how = how;
  }

  /** Takes a setup along; nothing happens in a browser that keeps nothing, or without network. */
  async take(setupId: number, now = Date.now()): Promise<void> {
    const workers = globalThis.navigator?.serviceWorker;
    if (!this.how || this.busy || !workers || !navigator.onLine) return;
    this.busy = true;
    try {
      if (!workers.controller && !(await comes(workers))) return;
      await this.how(setupId);
      this.taken = { setupId, at: now };
    } catch {
      // What was kept stays; the strip says that there is no network.
    } finally {
      this.busy = false;
    }
  }
}

export const pack = new Pack();

/** Whether the page's worker comes: on a first visit it is being set up still. */
function comes(workers: ServiceWorkerContainer): Promise<boolean> {
  return new Promise((resolve) => {
    const late = setTimeout(() => resolve(false), COMES_MS);
    workers.addEventListener(
      'controllerchange',
      () => {
        clearTimeout(late);
        resolve(true);
      },
      { once: true },
    );
  });
}
