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
export type BounceMessage = { setup: BounceSetup } | { strike: BounceStrike; n: number };
export type BounceReply = { n: number; bounced: Bounced; wav: Uint8Array } | { n: number; problem: string };

let setup: BounceSetup | null = null;

/** Renders strikes away from the page, one after another. */
self.onmessage = async ({ data }: MessageEvent<BounceMessage>) => {
  if ('setup' in data) {
    setup = data.setup;
    return;
  }
  const { strike, n } = data;
  let reply: BounceReply;
  try {
    const { programs, samples, targets, settings } = setup!;
    reply = {
      n,
      ...(await bounceStrike(
        programs[strike.target],
        samples[strike.target],
        targets[strike.target],
        settings,
        strike,
        contentHash,
      )),
    };
  } catch (error) {
    reply = { n, problem: error instanceof Error ? error.message : String(error) };
  }
  self.postMessage(reply, { transfer: 'wav' in reply ? [reply.wav.buffer as ArrayBuffer] : [] });
};
