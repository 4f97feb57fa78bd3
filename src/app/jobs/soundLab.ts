import type { Audio } from '../../core/dsp/sample';
import { compile } from '../../core/engine/compile';
import { needsNoFile } from '../../core/formats/prepare';
import { loudnessGainDb } from '../../core/measure/level';
import { markAt, newLayer, newPatch, newSound, newZone } from '../../core/rig/defaults';
import type { BroughtSound } from '../../core/formats/bringIn';
import { answersNearMiddleC } from '../../core/rig/answering';
import type { Layer, Sample, Zone } from '../../core/rig/schema';
import type { SoundAnswers, SoundJob, SoundReply, SoundRequest } from '../../workers/soundWorker';
import { session } from '../sound/session';
import { keepsNothing } from '../document/storage/database';
import { keepOrHold, onlyInMemory } from '../document/storage/demoSamples';

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

let auditioned = 0;

/**
 * Plays a sample beside whatever sounds, at the common loudness, through a layer's strip or dry. Nothing in place is
 * touched: a second engine does it. Gives what
 * is wrong, if anything.
 */
export async function audition(sample: Sample, key: number, layer: Layer | null): Promise<string | undefined> {
  const mine = ++auditioned;
  try {
    const levels = await soundLab.levels(sample.id);
    if (mine !== auditioned) return undefined;
    const zone = { ...newZone(sample.id, key), gain: loudnessGainDb(levels), playback: 'full-length' as const };
    const strip = layer ?? newLayer('audition', 'audition', 'audition', markAt(0));
    const heard: Layer = {
      ...strip,
      soundId: 'audition',
      on: true,
      transpose: 0,
      windows: newLayer('', '', '', strip.mark).windows,
      receive: { ...strip.receive, channel: 'any' },
      touch: { curve: 0, outLow: 1, outHigh: 127, fixed: null },
    };
    return await strike(mine, heard, [zone], [sample], key, 127);
  } catch (error) {
    return `“${sample.name}”: ${(error as Error).message}`;
  }
}

/** Plays one note of a whole sound that is not in the rig yet, in the same way and at the same loudness. */
export async function auditionSound({
  name,
  zones,
  samples,
}: Pick<BroughtSound, 'name' | 'zones' | 'samples'>): Promise<string | undefined> {
  const mine = ++auditioned;
  try {
    const answers = answersNearMiddleC(zones, SOUND_VELOCITY);
    if (!answers) return `“${name}” answers no key`;
    // The first of the samples gives the measure; what is mixed with it stays as it stands to it.
    const [first] = answers.zones;
    const gain = loudnessGainDb(await soundLab.levels(first.sampleId)) - first.gain;
    if (mine !== auditioned) return undefined;
    const heard = answers.zones.map((zone) => ({ ...zone, gain: Math.max(-96, Math.min(48, zone.gain + gain)) }));
    return await strike(
      mine,
      newLayer('audition', 'audition', 'audition', markAt(0)),
      heard,
      samples,
      answers.key,
      SOUND_VELOCITY,
      SOUND_SECONDS,
    );
  } catch (error) {
    return `“${name}”: ${(error as Error).message}`;
  }
}

const SOUND_VELOCITY = 100;
const SOUND_SECONDS = 1.5;

async function strike(
  mine: number,
  layer: Layer,
  zones: Zone[],
  samples: readonly Sample[],
  key: number,
  velocity: number,
  seconds?: number,
): Promise<string | undefined> {
  const program = compile(
    { ...newPatch('audition', 'audition'), layers: [layer] },
    { sounds: [newSound('audition', 'audition', zones)], samples, keyLow: 0, keyHigh: 127 },
  );
  const prepared = await Promise.all(
    program.samples.map(async (request) => {
      const bytes = needsNoFile(request) ? new Uint8Array() : await session.wavOf(request.sampleId);
      return bytes
        ? session.prepare({ request, bytes: bytes.slice().buffer })
        : { problem: 'is missing from this browser' };
    }),
  );
  if (mine !== auditioned) return undefined;
  const good = prepared.flatMap((result) => ('problem' in result ? [] : [result]));
  if (good.length === 0)
    return `“${samples.find(({ id }) => id === program.samples[0]?.sampleId)?.name ?? 'it'}” cannot be played: it is missing from this browser, or damaged`;
  session.audio.audition(program, good, key, velocity, seconds);
  return undefined;
}

export function stopAudition(): void {
  auditioned++;
  session.audio.stopAudition();
}
