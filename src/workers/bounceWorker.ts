import { expose, transfer } from 'comlink';
import { bounceStrike } from '../core/bounce/bounce';
import type { Bounced, BounceSettings, BounceStrike, BounceTarget } from '../core/bounce/plan';
import type { Prepared } from '../core/dsp/prepared';
import type { Program } from '../core/engine/program/program';
import { contentHash } from '../host/contentHash';

/** Sent once to each worker: everything that strikes are rendered with. */
export interface BounceSetup {
  programs: Program[];
  samples: { key: string; sample: Prepared }[][];
  targets: BounceTarget[];
  settings: BounceSettings;
}

let setup: BounceSetup | null = null;

const api = {
  /** What strikes are rendered with: told once. */
  setUp(told: BounceSetup): void {
    setup = told;
  },
  /** Renders a strike. */
  async bounce(strike: BounceStrike): Promise<{ bounced: Bounced; wav: Uint8Array }> {
    const { programs, samples, targets, settings } = setup!;
    const { target } = strike;
    const made = await bounceStrike(programs[target], samples[target], targets[target], settings, strike, contentHash);
    return transfer(made, [made.wav.buffer as ArrayBuffer]);
  },
};
export type BounceApi = typeof api;
expose(api);
