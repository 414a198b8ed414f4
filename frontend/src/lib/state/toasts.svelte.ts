/** What was done, said in passing, with a way back. */
const SHOWN_MS = 9000;

type Toast = { id: number; text: string; undo?: (() => Promise<void>) | undefined };

class Toasts {
  shown = $state.raw<Toast[]>([]);
  private count = 0;

  say(text: string, undo?: () => Promise<void>): void {
    const id = ++this.count;
    this.shown = [...this.shown.slice(-2), { id, text, undo }];
    setTimeout(() => this.drop(id), SHOWN_MS);
  }

  drop(id: number): void {
    this.shown = this.shown.filter((toast) => toast.id !== id);
  }

  async undo(toast: Toast): Promise<void> {
    this.drop(toast.id);
    try {
      await toast.undo?.();
    } catch (error) {
      this.say((error as Error).message);
    }
  }
}

export const toasts = new Toasts();
