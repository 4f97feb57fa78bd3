import { transfer } from 'comlink';
import { Hired } from '../document/hired';
import type { SampleRequest } from '../../core/engine/program/program';
import { isWaves, type Prepared } from '../../core/dsp/prepared';
import { needsNoFile } from '../../core/sounds/synth/tableIds';
import type { Patch, Rig } from '../../core/rig/schema';
import type { AudioHost } from '../../host/audioHost';
import type { PrepareApi, PrepareJob, PrepareResult } from '../../workers/prepareWorker';
import { programIfAny } from './compiled';
import { sampleBytes } from '../document/storage/demoSamples';

/** How far a patch is from being playable: samples that are still to come, and those that never will. */
export interface Readiness {
  coming: number;
  missing: number;
}

/** Brings samples to the engine: what plays first, what may come next after it, the rest as long as there is room. */
export class SampleFetcher {
  /** Requests for samples that were made, those that came to something or nothing, and those that came to nothing. */
  private readonly asked = new Set<string>();
  private readonly settled = new Set<string>();
  private readonly lost = new Set<string>();
  private readonly bytes = new Map<string, number>();
  /** Those that strikes made before there was sound wait for. */
  awaited: ReadonlySet<string> = new Set();
  /** The requests of the program that plays. */
  needed: ReadonlySet<string> = new Set();
  /** They take turns, and leave a core to the page; made when the first sample comes. */
  private workers: Hired<PrepareApi>[] = [];
  private jobs = 0;
  private run = 0;
  private toldAt = 0;

  constructor(
    private readonly audio: AudioHost,
    private readonly tell: () => void,
    private readonly silent: (sampleId: string, why: string) => void,
  ) {}

  private worker(n: number): Hired<PrepareApi> {
    const count = Math.max(1, Math.min(4, navigator.hardwareConcurrency - 1));
    const at = n % count;
    if (!this.workers[at] || this.workers[at].isGone)
      this.workers[at] = new Hired(
        new Worker(new URL('../../workers/prepareWorker.ts', import.meta.url), { type: 'module' }),
      );
    return this.workers[at];
  }

  /** Another rig: what was asked for was asked for by the one before. */
  forget(): void {
    for (const kept of [this.asked, this.settled, this.lost]) kept.clear();
    this.bytes.clear();
  }

  isSettled(key: string): boolean {
    return this.settled.has(key);
  }

  /** Samples of what plays that are still to come. */
  get loading(): number {
    let count = 0;
    for (const key of this.needed) if (!this.settled.has(key)) count++;
    return count;
  }

  readiness(requests: readonly SampleRequest[]): Readiness {
    let coming = 0;
    let missing = 0;
    for (const { key } of requests) {
      if (this.lost.has(key)) missing++;
      else if (!this.settled.has(key)) coming++;
    }
    return { coming, missing };
  }

  /**
   * What the patch in view needs first; then, bit by bit, what the others will need, in their order, so that a change
   * of patch finds everything there. The first `sure` of them are brought whatever they
   * take, the rest while there is room. A newer call takes over from an older one. In the end the engine forgets what
   * nobody needs any more: every loop that was tried left a copy behind.
   */
  async fetch(rig: Rig, requests: readonly SampleRequest[], others: readonly Patch[], sure: number): Promise<void> {
    const run = ++this.run;
    const keys = new Set<string>();
    const fetchAll = (wanted: readonly SampleRequest[], goesOn: () => boolean) =>
      inParallel(
        [...wanted],
        (left) => this.mostWanted(left),
        async (request) => {
          keys.add(request.key);
          if (this.asked.has(request.key) || !goesOn()) return;
          this.asked.add(request.key);
          await this.fetchOne(rig, request);
          this.settled.add(request.key);
          // What plays is told at once; of what is only prepared, now and then is enough.
          const now = performance.now();
          if (this.needed.has(request.key) || now - this.toldAt > TOLD_MS) {
            this.toldAt = now;
            this.tell();
          }
        },
      );
    await fetchAll(requests, () => true);
    for (const [n, other] of others.entries()) {
      // One who has just come to a patch plays it: the others wait a moment, neighbours in the show a shorter one.
      if (n === 0 || n === sure) await new Promise((resolve) => setTimeout(resolve, n < sure ? SOON_MS : OTHERS_MS));
      await new Promise((resolve) => setTimeout(resolve));
      if (run !== this.run) return;
      if (n >= sure && this.size(keys) > MOST_BYTES) break;
      await fetchAll(programIfAny(other, rig, this.audio.context?.sampleRate)?.samples ?? [], () => run === this.run);
    }
    if (run !== this.run) return;
    this.tell();
    const gone = [...this.asked].filter((key) => !keys.has(key) && this.settled.has(key));
    if (gone.length === 0) return;
    for (const key of gone) for (const kept of [this.asked, this.settled, this.lost]) kept.delete(key);
    for (const key of gone) this.bytes.delete(key);
    this.audio.keepSamples([...this.asked]);
  }

  private size(keys: ReadonlySet<string>): number {
    let sum = 0;
    for (const key of keys) sum += this.bytes.get(key) ?? 0;
    return sum;
  }

  /** Which of the samples still to come is needed first: those that a strike already waits for, else the next. */
  private mostWanted(left: readonly SampleRequest[]): number {
    if (this.awaited.size === 0) return 0;
    return Math.max(
      0,
      left.findIndex((request) => this.awaited.has(request.key)),
    );
  }

  private async fetchOne(rig: Rig, request: SampleRequest): Promise<void> {
    const name = rig.samples.find((sample) => sample.id === request.sampleId)?.name ?? request.sampleId;
    const silent = (why: string) => {
      this.lost.add(request.key);
      this.silent(request.sampleId, `“${name}” ${why}: its zones stay silent`);
    };
    try {
      const bytes = needsNoFile(request) ? new Uint8Array() : await sampleBytes(request.sampleId);
      if (!bytes) return silent('is missing from this browser');
      const result = await this.prepare({ request, bytes: bytes.slice().buffer });
      if ('problem' in result) return silent(`cannot be played, ${result.problem}`);
      this.bytes.set(request.key, bytesOf(result.sample));
      this.audio.addSamples([result]);
    } catch (error) {
      silent(`could not be read from this browser, ${(error as Error).message}`);
    }
  }

  /** Samples made ready for playing, those that the engine has and others; what is missing is left out. */
  async preparedFor(requests: readonly SampleRequest[]): Promise<{ key: string; sample: Prepared }[]> {
    const found = await Promise.all(
      requests.map(async (request) => {
        const there = this.audio.sampleOf(request.key);
        if (there) return { key: request.key, sample: there };
        const bytes = needsNoFile(request) ? new Uint8Array() : await sampleBytes(request.sampleId);
        const result = bytes && (await this.prepare({ request, bytes: bytes.slice().buffer }));
        return result && !('problem' in result) ? result : undefined;
      }),
    );
    return found.filter((each) => each !== undefined);
  }

  prepare(job: PrepareJob): Promise<PrepareResult> {
    return this.worker(++this.jobs).ask((api) => api.prepare(transfer(job, [job.bytes])) as Promise<PrepareResult>);
  }
}

/** Memory that a sample takes once it is ready. */
function bytesOf(sample: Prepared): number {
  let sum = 0;
  const count = (value: unknown, depth: number) => {
    if (ArrayBuffer.isView(value)) sum += value.byteLength;
    else if (value !== null && typeof value === 'object' && depth < 4)
      for (const part of Object.values(value)) count(part, depth + 1);
  };
  if (isWaves(sample)) return 0;
  count(sample, 0);
  return sum;
}

const OTHERS_MS = 1500,
  SOON_MS = 250;
const AT_ONCE = 8;
const TOLD_MS = 500;
/** Beyond this, only what plays and its neighbours in the show are made ready: 1.5 GB. */
const MOST_BYTES = 1.5e9;

/** Works through a list, a few at a time; `pick` gives the place of the one to take next among those left. */
async function inParallel<T>(
  left: T[],
  pick: (left: readonly T[]) => number,
  work: (item: T) => Promise<void>,
): Promise<void> {
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      while (left.length > 0) await work(left.splice(pick(left), 1)[0]);
    }),
  );
}
