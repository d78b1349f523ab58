/** The one playhead. It lives outside React: whoever draws subscribes, and nothing re-renders while it runs. */

type Listener = (time: number) => void;

class Playhead {
  time = 0;
  cycle = 1;
  samples = 60;
  speed = 1;
  playing = false;
  private listeners = new Set<Listener>();
  private stateListeners = new Set<() => void>();
  private frame = 0;
  private last = 0;

  subscribe(listener: Listener): () => void {
    this.listeners.add(listener);
    listener(this.time);
    return () => this.listeners.delete(listener);
  }

  /** For the play button: told when playing starts, stops or changes speed. */
  readonly watch = (listener: () => void): (() => void) => {
    this.stateListeners.add(listener);
    return () => this.stateListeners.delete(listener);
  };

  readonly state = (): string => `${this.playing ? "playing" : "still"} ${this.speed}`;

  setCycle(cycle: number, samples: number): void {
    this.samples = samples;
    // Whoever draws a new picture draws it himself.
    if (cycle === this.cycle) return;
    const share = this.time / this.cycle;
    this.cycle = cycle;
    this.time = Math.min(share, 0.999999) * cycle;
    this.tell();
  }

  seek(time: number): void {
    this.time = ((time % this.cycle) + this.cycle) % this.cycle;
    this.tell();
  }

  step(samples: number): void {
    this.stop();
    const at = Math.round((this.time / this.cycle) * this.samples) + samples;
    this.seek((at / this.samples) * this.cycle);
  }

  setSpeed(speed: number): void {
    this.speed = speed;
    this.tellState();
  }

  toggle(): void {
    if (this.playing) this.stop();
    else this.play();
  }

  play(): void {
    if (this.playing) return;
    this.playing = true;
    this.last = performance.now();
    const tick = (now: number) => {
      if (!this.playing) return;
      this.seek(this.time + ((now - this.last) / 1000) * this.speed);
      this.last = now;
      this.frame = requestAnimationFrame(tick);
    };
    this.frame = requestAnimationFrame(tick);
    this.tellState();
  }

  stop(): void {
    if (!this.playing) return;
    this.playing = false;
    cancelAnimationFrame(this.frame);
    this.tellState();
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener(this.time);
  }

  private tellState(): void {
    for (const listener of this.stateListeners) listener();
  }
}

export const playhead = new Playhead();
