import { transfer } from 'comlink';
import { Hired } from './hired';
import type { Audio } from '../../core/dsp/sample';
import type { SoundAnswer, SoundAnswers, SoundApi, SoundJob } from '../../workers/soundWorker';
import { keepsNothing } from './storage/database';
import { keepOrHold, onlyInMemory } from './storage/demoSamples';

/** A few workers that read, measure and decode; jobs wait in line, and what is asked often is kept. */
class SoundLab {
  private readonly workers: Hired<SoundApi>[] = [];
  private readonly idle: Hired<SoundApi>[] = [];
  private readonly line: ((worker: Hired<SoundApi>) => void)[] = [];
  private readonly audioOf = new Map<string, Promise<Audio>>();
  private readonly levelsOf = new Map<string, Promise<SoundAnswers['levels']>>();

  /** Does a job in one of the workers. Rejects with what is wrong. */
  async ask<J extends SoundJob>(job: J, given: Transferable[] = []): Promise<SoundAnswers[J['type']]> {
    const { answer, handedBack } = await this.give(await this.free(), job, given);
    for (const [sampleId, wav] of handedBack) await keepOrHold(sampleId, wav);
    return answer as SoundAnswers[J['type']];
  }

  /** A worker with nothing to do, as soon as there is one. */
  private free(): Promise<Hired<SoundApi>> {
    return new Promise((resolve) => {
      this.line.push(resolve);
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
      this.line.shift()!(worker);
    }
  }

  /** One that dies of what it reads, or takes too long over it, takes nothing with it: another takes its place. */
  private async give(
    worker: Hired<SoundApi>,
    job: SoundJob,
    given: Transferable[],
  ): Promise<SoundAnswer<SoundJob['type']>> {
    const bytes = 'sampleId' in job ? await onlyInMemory(job.sampleId) : undefined;
    const most = LONGEST_S[job.type];
    const giveUp = () => worker.end(new Error(`reading it took longer than ${most} s, and was given up`));
    const patience = most ? setTimeout(giveUp, most * 1000) : undefined;
    try {
      return await worker.ask((api) => api.work(transfer(job, given), keepsNothing(), bytes));
    } finally {
      clearTimeout(patience);
      if (worker.isGone) this.workers.splice(this.workers.indexOf(worker), 1);
      else this.idle.push(worker);
      this.hand();
    }
  }

  private hire(): Hired<SoundApi> | undefined {
    if (this.workers.length >= MOST_WORKERS) return undefined;
    const worker = new Hired<SoundApi>(
      new Worker(new URL('../../workers/soundWorker.ts', import.meta.url), { type: 'module' }),
      'it could not be read: there was too much of it, or it is damaged',
    );
    this.workers.push(worker);
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
