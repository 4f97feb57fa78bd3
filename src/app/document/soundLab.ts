import type { Audio } from '../../core/dsp/sample';
import type { SoundAnswers, SoundJob, SoundReply, SoundRequest } from '../../workers/soundWorker';
import { keepsNothing } from './storage/database';
import { keepOrHold, onlyInMemory } from './storage/demoSamples';

/** A few workers that read, measure and decode; jobs wait in line, and what is asked often is kept. */
class SoundLab {
  private readonly workers: Worker[] = [];
  private readonly idle: Worker[] = [];
  private readonly line: { id: number; job: SoundJob; transfer: Transferable[] }[] = [];
  private readonly waiting = new Map<number, { resolve: (answer: never) => void; reject: (error: Error) => void }>();
  private readonly patience = new WeakMap<Worker, ReturnType<typeof setTimeout>>();
  private next = 0;
  private readonly audioOf = new Map<string, Promise<Audio>>();
  private readonly levelsOf = new Map<string, Promise<SoundAnswers['levels']>>();

  /** Does a job in one of the workers. Rejects with what is wrong. */
  ask<J extends SoundJob>(job: J, transfer: Transferable[] = []): Promise<SoundAnswers[J['type']]> {
    return new Promise((resolve, reject) => {
      const id = ++this.next;
      this.waiting.set(id, { resolve: resolve as (answer: never) => void, reject });
      this.line.push({ id, job, transfer });
      this.hand();
    });
  }

  /** A sample decoded; the last few stay at hand. */
  audio(sampleId: string): Promise<Audio> {
    return remembered(this.audioOf, sampleId, MOST_AUDIO, () => this.ask({ type: 'audio', sampleId }));
  }

  levels(sampleId: string): Promise<SoundAnswers['levels']> {
    return remembered(this.levelsOf, sampleId, MOST_LEVELS, () => this.ask({ type: 'levels', sampleId }));
  }

  private hand(): void {
    while (this.line.length > 0) {
      const worker = this.idle.pop() ?? this.hire();
      if (!worker) return;
      const { id, job, transfer } = this.line.shift()!;
      void this.give(worker, id, job, transfer);
    }
  }

  private async give(worker: Worker, id: number, job: SoundJob, transfer: Transferable[]): Promise<void> {
    const bytes = 'sampleId' in job ? await onlyInMemory(job.sampleId) : undefined;
    const most = LONGEST_S[job.type];
    if (most)
      this.patience.set(
        worker,
        setTimeout(
          () => this.dismiss(worker, id, new Error(`reading it took longer than ${most} s, and was given up`)),
          most * 1000,
        ),
      );
    // One that dies of what it reads takes nothing with it.
    worker.onerror = () =>
      this.dismiss(worker, id, new Error('it could not be read: there was too much of it, or it is damaged'));
    worker.postMessage({ id, job, isMemory: keepsNothing(), bytes } satisfies SoundRequest, transfer);
  }

  /** Ends a worker in the middle of what it does; another takes its place when one is needed. */
  private dismiss(worker: Worker, id: number, error: Error): void {
    worker.terminate();
    clearTimeout(this.patience.get(worker));
    for (const list of [this.workers, this.idle]) if (list.includes(worker)) list.splice(list.indexOf(worker), 1);
    this.waiting.get(id)?.reject(error);
    this.waiting.delete(id);
    this.hand();
  }

  private hire(): Worker | undefined {
    if (this.workers.length >= MOST_WORKERS) return undefined;
    const worker = new Worker(new URL('../../workers/soundWorker.ts', import.meta.url), { type: 'module' });
    this.workers.push(worker);
    worker.onmessage = async ({ data }: MessageEvent<SoundReply>) => {
      const { resolve, reject } = this.waiting.get(data.id)!;
      clearTimeout(this.patience.get(worker));
      this.waiting.delete(data.id);
      this.idle.push(worker);
      this.hand();
      if ('problem' in data) return reject(new Error(data.problem));
      for (const [sampleId, wav] of data.handedBack) await keepOrHold(sampleId, wav);
      resolve(data.answer as never);
    };
    return worker;
  }
}

/**
 * Seconds after which a file that somebody made is given up: honest ones take a few. What is measured of recordings
 * that are here takes its time.
 */
const LONGEST_S: Partial<Record<SoundJob['type'], number>> = {
  archive: 120,
  isArchive: 60,
  samplePaths: 60,
  sfz: 60,
  soundFont: 180,
  look: 120,
};
const MOST_WORKERS = Math.max(1, Math.min(4, (navigator.hardwareConcurrency || 2) - 1));
const MOST_AUDIO = 6;
const MOST_LEVELS = 20_000;

async function remembered<T>(
  kept: Map<string, Promise<T>>,
  key: string,
  most: number,
  make: () => Promise<T>,
): Promise<T> {
  const known = kept.get(key);
  if (known) {
    kept.delete(key);
    kept.set(key, known);
    return known;
  }
  const fresh = make();
  kept.set(key, fresh);
  fresh.catch(() => kept.delete(key));
  if (kept.size > most) kept.delete(kept.keys().next().value!);
  return fresh;
}

export const soundLab = new SoundLab();
