/** A boat that is being driven: what the server says of it, up to 25 times a second, and when to raise one's voice. */
import { api, ask, fileAt, type Drive, type Live, type LiveSource, type Problem } from '$lib/api/client';
import { Once } from '$lib/api/once';
import { keep, kept } from '$lib/state/kept';

const SOURCE = 'live.source';
/** A server that says nothing for so long is lost. */
const SILENT_MS = 2500;
const AGAIN_MS = 1000;
const RETURNS_MS = 1800;
const RETURN_TRIES = 30;

/** What is heard and felt of an advice; nothing for one that is only read. */
export function alarm(
  advice: Live['advice'],
  before: Live['advice'] | undefined,
): { hz: number; times: number } | undefined {
  if (advice === before) return undefined;
  if (advice === 'come_in') return { hz: 880, times: 3 };
  if (advice === 'lift') return { hz: 660, times: 2 };
  return undefined;
}

export class LiveState {
  told = $state.raw<Live | undefined>();
  drive = $state.raw<Drive | undefined>();
  /** The drive is over, and what became of it. */
  ended = $state.raw<Drive | undefined>();
  /** The server itself is not heard. */
  deaf = $state(false);
  busy = $state(false);
  problem = $state.raw<Problem | undefined>();
  sound = $state(true);
  source = $state<LiveSource>({ kind: 'tcp', host: '127.0.0.1', port: 10110, path: '', baud: 115200 });
  private stream: EventSource | undefined;
  private audio: AudioContext | undefined;
  private watchdog: ReturnType<typeof setTimeout> | undefined;
  private readonly once = new Once();

  constructor() {
    const last = kept<LiveSource>(SOURCE);
    if (last) this.source = { ...this.source, ...last };
  }

  /** A drive that goes on already is followed at once: a reload, or a second screen. */
  async look(setupId: number): Promise<void> {
    const drives = await ask(api.GET('/api/setups/{setup_id}/drives', { params: { path: { setup_id: setupId } } }));
    const open = drives.find((drive) => drive.ended_at === null);
    if (open && !this.drive) this.follow(open);
  }

  async start(setupId: number): Promise<void> {
    this.problem = this.ended = this.told = undefined;
    this.busy = true;
    // A tone may only be made after a tap; this is one.
    if (this.sound) this.audio ??= new AudioContext();
    const body = $state.snapshot(this.source);
    keep(SOURCE, body);
    try {
      const params = { path: { setup_id: setupId }, header: this.once.header([setupId, body]) };
      const drive = await ask(api.POST('/api/setups/{setup_id}/drives', { params, body }));
      this.once.arrived();
      this.follow(drive);
    } catch (error) {
      this.problem = error as Problem;
    } finally {
      this.busy = false;
    }
  }

  /** The boat is out of the water: a run is made of what was kept. */
  async land(): Promise<void> {
    const { drive } = this;
    if (!drive) return;
    this.busy = true;
    this.problem = undefined;
    try {
      this.over(await ask(api.POST('/api/drives/{drive_id}/end', { params: { path: { drive_id: drive.id } } })));
    } catch (error) {
      this.problem = error as Problem;
    } finally {
      this.busy = false;
    }
  }

  private follow(drive: Drive): void {
    this.stop();
    this.drive = drive;
    const stream = new EventSource(fileAt(`/api/drives/${drive.id}/live`));
    stream.onmessage = (event) => this.take(JSON.parse(event.data as string) as Live);
    stream.addEventListener('over', () => void this.finished());
    stream.onerror = () => {
      this.deaf = true;
      // The browser tries again by itself unless it was refused.
      if (stream.readyState === EventSource.CLOSED) this.watchdog = setTimeout(() => this.follow(drive), AGAIN_MS);
    };
    this.stream = stream;
  }

  take(told: Live): void {
    const loud = alarm(told.advice, this.told?.advice);
    this.told = told;
    this.deaf = false;
    clearTimeout(this.watchdog);
    this.watchdog = setTimeout(() => (this.deaf = true), SILENT_MS);
    if (loud) {
      this.beep(loud.hz, loud.times);
      globalThis.navigator?.vibrate?.(Array.from({ length: loud.times }, () => [220, 120]).flat());
    }
  }

  /** Asks what became of a drive whose stream is over. */
  async finished(tries = RETURN_TRIES): Promise<void> {
    const { drive } = this;
    this.stop();
    if (!drive) return;
    try {
      this.over(await ask(api.GET('/api/drives/{drive_id}', { params: { path: { drive_id: drive.id } } })));
    } catch (error) {
      if (tries) setTimeout(() => void this.finished(tries - 1), RETURNS_MS);
      else this.problem = error as Problem;
    }
  }

  private over(drive: Drive): void {
    this.stop();
    this.ended = drive;
    this.drive = undefined;
    this.deaf = false;
  }

  stop(): void {
    clearTimeout(this.watchdog);
    this.stream?.close();
    this.stream = undefined;
  }

  private beep(hz: number, times: number): void {
    if (!this.sound || !this.audio) return;
    for (let k = 0; k < times; k += 1) {
      const tone = this.audio.createOscillator();
      const level = this.audio.createGain();
      level.gain.value = 0.2;
      tone.frequency.value = hz;
      tone.connect(level).connect(this.audio.destination);
      const at = this.audio.currentTime + k * 0.35;
      tone.start(at);
      tone.stop(at + 0.22);
    }
  }
}
