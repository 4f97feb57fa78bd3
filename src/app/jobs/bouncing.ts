import { programOfTarget } from '../../core/bounce/bounce';
import { strikesOf, targetsOf, withBounced, type Bounced, type BounceSettings } from '../../core/bounce/plan';
import { freeId } from '../../core/rig/names';
import type { Patch, Rig } from '../../core/rig/schema';
import type { BounceApi, BounceSetup } from '../../workers/bounceWorker';
import { Hired } from '../document/hired';
import { session } from '../sound/session';
import { edit, newId, store } from '../document/store';
import { keepSample } from '../document/storage/database';

export interface BounceDone {
  patchId: string;
  zones: number;
  silent: number;
  loops: number;
  seconds: number;
  took: number;
}
type Place =
  | { kind: 'idle' }
  | { kind: 'busy'; done: number; of: number }
  | { kind: 'done'; result: BounceDone; from: string }
  | { kind: 'failed'; problem: string };

/** Renders strikes in as many workers as there are cores, and puts the new sounds into the rig in one edit. */
class Bouncing {
  place: Place = { kind: 'idle' };
  private workers: Hired<BounceApi>[] = [];
  private run = 0;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  private go(place: Place): void {
    this.place = place;
    for (const listener of this.listeners) listener();
  }

  /** What was rendered so far is forgotten; nothing of the rig has changed. */
  cancel(): void {
    this.run++;
    this.end();
    this.go({ kind: 'idle' });
  }

  private end(): void {
    for (const worker of this.workers) worker.end();
    this.workers = [];
  }

  async bounce(rig: Rig, patch: Patch, settings: BounceSettings): Promise<void> {
    const run = ++this.run;
    this.end();
    const began = performance.now();
    try {
      const targets = targetsOf(patch, settings);
      const strikes = strikesOf(targets, settings);
      this.go({ kind: 'busy', done: 0, of: strikes.length });
      const programs = targets.map((target) => programOfTarget(rig, target));
      const samples = await Promise.all(programs.map((program) => session.samples.preparedFor(program.samples)));
      if (run !== this.run) return;
      const bounced = await this.render({ programs, samples, targets, settings }, strikes, run);
      if (run !== this.run) return;
      const { rig: now } = store.getState().rig;
      if (!now || now.id !== rig.id || !now.patches.some(({ id }) => id === patch.id))
        throw new Error('the patch is not there any more');
      const soundIds: string[] = [];
      for (const _ of targets) soundIds.push(freeId('bounced', [...now.sounds, ...soundIds.map((id) => ({ id }))]));
      const patchId = newId();
      store.dispatch(
        edit((old) => withBounced(old, patch, settings, targets, bounced, { patchId, soundIds, layerId: newId() })),
      );
      const made = store.getState().rig.rig!;
      if (!made.patches.some(({ id }) => id === patchId)) throw new Error('the rig could not take it');
      const zones = made.sounds
        .filter(({ id }) => soundIds.includes(id))
        .reduce((sum, sound) => sum + sound.zones.length, 0);
      const seconds = bounced.reduce((sum, { sample }) => sum + sample.frames / sample.rate, 0);
      this.go({
        kind: 'done',
        from: patch.id,
        result: {
          patchId,
          zones,
          silent: bounced.filter(({ silent }) => silent).length,
          loops: bounced.filter(({ loop }) => loop).length,
          seconds,
          took: (performance.now() - began) / 1000,
        },
      });
    } catch (error) {
      if (run === this.run) this.go({ kind: 'failed', problem: (error as Error).message });
    } finally {
      if (run === this.run) this.end();
    }
  }

  private async render(setup: BounceSetup, strikes: ReturnType<typeof strikesOf>, run: number): Promise<Bounced[]> {
    const results: Bounced[] = [];
    let next = 0;
    let done = 0;
    const count = Math.max(1, Math.min(MOST_WORKERS, navigator.hardwareConcurrency || 2, strikes.length));
    const work = async () => {
      const worker = new Hired<BounceApi>(
        new Worker(new URL('../../workers/bounceWorker.ts', import.meta.url), { type: 'module' }),
      );
      this.workers.push(worker);
      await worker.ask((api) => api.setUp(setup));
      while (next < strikes.length && run === this.run) {
        const n = next++;
        const { bounced, wav } = await worker.ask((api) => api.bounce(strikes[n]));
        if (run !== this.run) return;
        results[n] = bounced;
        if (!bounced.silent) await kept(bounced.sample.id, wav);
        this.go({ kind: 'busy', done: ++done, of: strikes.length });
      }
    };
    await Promise.all(Array.from({ length: count }, work));
    return results;
  }
}

/** Keeps a recording that was made; rejects with what is wrong. */
async function kept(sampleId: string, wav: Uint8Array): Promise<void> {
  try {
    await keepSample(sampleId, wav);
  } catch (error) {
    throw new Error(`this browser did not keep a recording (${(error as Error).message})`);
  }
}

const MOST_WORKERS = 8;

export const bouncing = new Bouncing();
