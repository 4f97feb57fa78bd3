import { session } from '../sound/session';

/**
 * Keys of the computer keyboard by where they are, not what they print: the lower rows play one octave, the upper rows
 * the next.
 */
const ROWS = [
  [
    'KeyZ',
    'KeyS',
    'KeyX',
    'KeyD',
    'KeyC',
    'KeyV',
    'KeyG',
    'KeyB',
    'KeyH',
    'KeyN',
    'KeyJ',
    'KeyM',
    'Comma',
    'KeyL',
    'Period',
    'Semicolon',
    'Slash',
  ],
  [
    'KeyQ',
    'Digit2',
    'KeyW',
    'Digit3',
    'KeyE',
    'KeyR',
    'Digit5',
    'KeyT',
    'Digit6',
    'KeyY',
    'Digit7',
    'KeyU',
    'KeyI',
    'Digit9',
    'KeyO',
    'Digit0',
    'KeyP',
  ],
];
const STEP_OF = new Map(ROWS.flatMap((row, r) => row.map((code, i) => [code, r * 12 + i] as const)));

/** Plays from the computer keyboard: two octaves, moved by − and =, with a velocity of its own. */
class TypingKeys {
  velocity = 96;
  lowest = 48;
  private readonly down = new Map<string, number>();
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  setVelocity(velocity: number): void {
    if (Number.isFinite(velocity)) this.velocity = Math.min(127, Math.max(1, Math.round(velocity)));
    this.tell();
  }

  /** True where the key means a note, so that it has no other meaning. */
  press(code: string): boolean {
    if (code === 'Minus' || code === 'Equal') {
      this.lowest = Math.min(96, Math.max(0, this.lowest + (code === 'Equal' ? 12 : -12)));
      this.tell();
      return true;
    }
    const step = STEP_OF.get(code);
    if (step === undefined) return false;
    const key = this.lowest + step;
    if (!this.down.has(code) && key <= 127) {
      this.down.set(code, key);
      session.play({ type: 'noteOn', channel: 1, key, velocity: this.velocity });
    }
    return true;
  }

  lift(code: string): void {
    const key = this.down.get(code);
    if (key === undefined) return;
    this.down.delete(code);
    session.play({ type: 'noteOff', channel: 1, key, velocity: 64 });
  }

  /** When the window loses the keyboard, nothing may hang. */
  liftAll(): void {
    for (const code of [...this.down.keys()]) this.lift(code);
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

export const typing = new TypingKeys();
