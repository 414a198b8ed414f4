/** Renaming, archiving, moving and binning what is on the sheet: boat, setup, run. */
import { api, ask, type RunView, type SetupView } from '$lib/api/client';
import { moveToBin } from '$lib/state/bin';
import { boathouse } from '$lib/state/boathouse.svelte';
import { go, pathTo } from '$lib/state/go';
import { here } from '$lib/state/here.svelte';
import { toasts } from '$lib/state/toasts.svelte';

type Subject = { setup: SetupView; run: () => RunView | undefined; changed: () => Promise<void> | void };

class Manage {
  subject = $state.raw<Subject | undefined>();
  problem = $state('');

  open(setup: SetupView, run: () => RunView | undefined, changed: () => Promise<void> | void): void {
    this.problem = '';
    this.subject = { setup, run, changed };
  }

  close(): void {
    this.subject = undefined;
  }

  private async act(work: () => Promise<void>): Promise<void> {
    this.problem = '';
    try {
      await work();
    } catch (error) {
      this.problem = (error as Error).message;
    }
  }

  renameBoat(id: number, name: string): Promise<void> {
    const before = boathouse.boats.find((b) => b.id === id)?.name ?? '';
    const rename = async (to: string): Promise<void> => {
      await ask(api.PATCH('/api/boats/{boat_id}', { params: { path: { boat_id: id } }, body: { name: to } }));
      await boathouse.refresh();
    };
    return this.act(async () => {
      if (name.trim() !== before) await rename(name);
      this.close(); // the way back is said beside the sheet, not behind the dialog
      if (name.trim() === before) return;
      toasts.say(`Boat renamed: ${name}`, () => rename(before));
    });
  }

  renameSetup(setup: SetupView, name: string): Promise<void> {
    const changed = this.subject?.changed;
    const rename = async (to: string): Promise<void> => {
      await ask(api.PATCH('/api/setups/{setup_id}', { params: { path: { setup_id: setup.id } }, body: { name: to } }));
      await changed?.();
    };
    return this.act(async () => {
      if (name.trim() !== setup.name) await rename(name);
      this.close();
      if (name.trim() === setup.name) return;
      toasts.say(`Setup renamed: ${name}`, () => rename(setup.name));
    });
  }

  archive(id: number): Promise<void> {
    const put = async (archived: boolean): Promise<void> => {
      await ask(api.PATCH('/api/boats/{boat_id}', { params: { path: { boat_id: id } }, body: { archived } }));
      await boathouse.refresh();
    };
    return this.act(async () => {
      await put(true);
      this.close();
      toasts.say('Boat archived. It is kept under Bin and archive', () => put(false));
      go('/');
    });
  }

  binBoat(id: number): Promise<void> {
    return this.act(async () => {
      await moveToBin('boat', id, () => boathouse.refresh());
      this.close();
      go('/');
    });
  }

  binSetup(setup: SetupView): Promise<void> {
    return this.act(async () => {
      await moveToBin('setup', setup.id, () => boathouse.refresh());
      this.close();
      const boat = boathouse.boats.find((b) => b.id === setup.boat_id);
      if (boat) go(pathTo(here.mark ?? 'match', boat.setup_id));
    });
  }

  binRun(run: RunView): Promise<void> {
    const changed = this.subject?.changed;
    return this.act(async () => {
      await moveToBin('run', run.id, async () => {
        await Promise.all([changed?.(), boathouse.refresh()]);
      });
      this.close();
    });
  }

  binLog(run: RunView): Promise<void> {
    const changed = this.subject?.changed;
    return this.act(async () => {
      await moveToBin('controller-log', run.id, async () => changed?.());
      this.close();
    });
  }

  moveRun(run: RunView, setupId: number): Promise<void> {
    const changed = this.subject?.changed;
    const move = async (to: number): Promise<void> => {
      await ask(api.PATCH('/api/runs/{run_id}', { params: { path: { run_id: run.id } }, body: { setup_id: to } }));
      await Promise.all([changed?.(), boathouse.refresh()]);
    };
    return this.act(async () => {
      await move(setupId);
      this.close();
      toasts.say('Run moved to another setup', () => move(run.setup_id));
    });
  }
}

export const manage = new Manage();
