import { session } from '../../sound/session';

export interface Answer {
  zone: number;
  key: number;
  at: number;
}

const MOST = 64;
const answers = new Map<string, Answer[]>();
let last: { soundId: string; zone: number; at: number } | null = null;
const listeners = new Set<(soundId: string, zone: number) => void>();

/**
 * Collects what the audio thread says about the zones that answered. To be called on every frame while somebody looks.
 */
export function collectAnswers(now: number): void {
  const strikes = session.hands.strikes;
  const key = strikes[strikes.length - 1]?.key ?? 60;
  for (const { soundId, zone } of session.meters.takeAnswers()) {
    const mine = answers.get(soundId) ?? [];
    mine.push({ zone, key, at: now });
    if (mine.length > MOST) mine.shift();
    answers.set(soundId, mine);
    last = { soundId, zone, at: now };
    for (const listener of listeners) listener(soundId, zone);
  }
}

export const answersOf = (soundId: string): readonly Answer[] => answers.get(soundId) ?? [];
export const lastAnswer = (): typeof last => last;

/** Tells of every zone that answers. */
export function onAnswer(listener: (soundId: string, zone: number) => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
