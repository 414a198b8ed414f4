/** A boat that is being driven: what the server says of it, ten times a second, and when to raise one's voice. */
import type { Live } from '$lib/api/client';

const PORT_KEY = 'kunstflug.live.port';

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
  /** Nobody answered at the port, or the stream broke and is asked for again. */
  gone = $state(false);
  running = $state(false);
  sound = $state(true);
  port = $state(Number(globalThis.localStorage?.getItem(PORT_KEY)) || 10110);
  private source: EventSource | undefined;
  private audio: AudioContext | undefined;

  start(setupId: number): void {
    this.stop();
    globalThis.localStorage?.setItem(PORT_KEY, String(this.port));
    this.gone = false;
    this.told = undefined;
    this.running = true;
    // A tone may only be made after a tap; this is one.
    if (this.sound) this.audio ??= new AudioContext();
    const source = new EventSource(`/api/setups/${setupId}/live?port=${this.port}`);
    source.onmessage = (event) => this.take(JSON.parse(event.data as string) as Live);
    source.addEventListener('gone', () => this.end(true));
    source.onerror = () => {
      if (this.told?.ended) this.end(false);
      else this.end(true);
    };
    this.source = source;
  }

  take(told: Live): void {
    const loud = alarm(told.advice, this.told?.advice);
    this.told = told;
    if (loud) {
      this.beep(loud.hz, loud.times);
      globalThis.navigator?.vibrate?.(Array.from({ length: loud.times }, () => [220, 120]).flat());
    }
    if (told.ended) this.end(false);
  }

  stop(): void {
    this.source?.close();
    this.source = undefined;
    this.running = false;
  }

  private end(gone: boolean): void {
    this.gone = gone;
    this.stop();
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
