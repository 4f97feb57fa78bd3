import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { EngineEvent } from '../src/core/engine/hands/event';
import { compile, contextOf } from '../src/core/engine/program/compile';
import { readArchive } from '../src/core/formats/rigArchive';
import { prepare } from '../src/core/formats/prepare';
import { needsNoFile } from '../src/core/sounds/synth/tableIds';
import { Chance } from '../src/core/dsp/chance';
import { patchAsPlayed, setlistOf, stepsOf } from '../src/core/rig/setlist';
import type { ToEngine } from '../src/host/protocol';
import { STEP_LOG_BYTES, StepReader, type Sum } from '../src/host/stepLog';
import { processorHere } from './processor';
import { begin } from './kills';
import { launch } from './browser';
import { handsByChance } from './soakShow';
import { heardDb, heardSince, hold, newMachine, openUnlocked, pair, serve, tap } from './twoMachines';

const RATE = 48000;
const BLOCK = 128;
/** Over which levels are compared: a choir sways, so not too short. */
const WINDOW_MS = 1000;
/** What a sound does by itself is looked at over so long before the end, in such steps. */
const SWAY_MS = 2000,
  STEP_MS = 100;
const MAIN = 4187,
  SECOND = 4188;

/**
 * The show of a rig in time-lapse on two engines in step, as the audio threads of two machines run them: hands by chance,
 * changes of patch, a line that delivers when it likes. Gives seconds that were compared and those that differed.
 */
export async function soakInStep(
  path: string,
  seconds: number,
  seed: number,
  told: (second: number, differ: number) => void,
): Promise<{ compared: number; differ: number; events: number }> {
  const { rig, wavs } = readArchive(readFileSync(path));
  const programs = stepsOf(rig, setlistOf(rig)).flatMap(({ patch, entry }) =>
    patch ? [compile(patchAsPlayed(patch, entry), contextOf(rig, RATE))] : [],
  );
  const samples = new Map(
    programs
      .flatMap((program) => program.samples)
      .map((request) => [
        request.key,
        prepare(request, needsNoFile(request) ? undefined : wavs.get(request.sampleId)!),
      ]),
  );
  const logs = [0, 1].map(() => new SharedArrayBuffer(STEP_LOG_BYTES));
  const [leader, follower] = await Promise.all(
    logs.map((log, n) => processorHere({ seed: 1, maxVoices: 256, channels: 2, log, follows: n === 1 })),
  );
  const [theirs, ours] = logs.map((log) => new StepReader(log));
  const all: ToEngine = { type: 'samples', samples: [...samples].map(([key, sample]) => ({ key, sample })) };
  const said: (ToEngine | null)[] = [];
  leader.say(all);
  said.push(null);
  follower.say(all);
  const tell = (message: ToEngine) => {
    leader.say(message);
    said.push(message);
  };
  const chance = new Chance(seed);
  const hands = handsByChance(chance);
  const waiting = { leader: new Map<number, Sum>(), follower: new Map<number, Sum>() };
  const result = { compared: 0, differ: 0, events: 0 };
  let untilChange = 0;
  const blocks = Math.round((seconds * RATE) / BLOCK);
  for (let block = 0; block < blocks; block++) {
    if (untilChange-- <= 0) {
      const { samples: _, ...program } = programs[chance.below(programs.length)];
      tell({ type: 'program', program, serial: block + 1 });
      untilChange = chance.share() < 0.15 ? chance.below(20) : 400 + chance.below(1800);
    }
    if (chance.share() < 0.5) {
      const event: EngineEvent = hands();
      tell({ type: 'event', event });
      result.events++;
    }
    leader.run();
    follower.run();
    if (chance.below(16) > 0) continue;
    const upTo = theirs.read((n, at, ahead) => {
      const message = said[n];
      said[n] = null;
      if (message) follower.say({ type: 'told', at, ahead, message });
    });
    if (upTo === undefined) throw new Error('the log was read too late');
    follower.say({ type: 'upTo', blocks: upTo });
    for (const sum of theirs.sums()) waiting.leader.set(sum.second, sum);
    for (const sum of ours.sums()) {
      const other = waiting.leader.get(sum.second);
      waiting.leader.delete(sum.second);
      if (!other) continue;
      result.compared++;
      if (other.hash !== sum.hash) result.differ++;
      if (result.compared % 60 === 0) told(result.compared, result.differ);
    }
  }
  return result;
}

/** What came of one end: after how many ms the second was heard, by how many dB it was off, and what still sounds. */
export interface Takeover {
  afterMs: number;
  offDb: number;
  /** By how many dB the sound went up and down by itself within as long, at the most, before the end. */
  swayDb: number;
  hangs: boolean;
}

/** Ends the first of two machines at random moments, while a key is held: what becomes of the sound. */
export async function takeovers(
  count: number,
  seed: number,
  told: (n: number, each: Takeover) => void,
): Promise<Takeover[]> {
  const chance = new Chance(seed);
  const servers = [await serve(MAIN), await serve(SECOND)];
  const browser = await launch();
  const all: Takeover[] = [];
  try {
    for (let n = 0; n < count; n++) {
      const profile = mkdtempSync(join(tmpdir(), 'wavicle-spare-'));
      const first = await begin(profile);
      let alive = true;
      const end = async () => {
        if (alive) await first.kill();
        alive = false;
      };
      try {
        const second = await newMachine(browser);
        await tap(first.page);
        await openUnlocked(first.page, MAIN);
        await openUnlocked(second, SECOND);
        await pair(first.page, second, MAIN, true);
        // A choir, which sounds as long as it is held.
        await first.page.keyboard.press('5');
        await first.page.keyboard.press('Enter');
        await second
          .getByTestId('stage-title')
          .getByText('Kelp Choir')
          .waitFor()
          .catch(async (error: Error) => {
            const words = await Promise.all(
              [first.page, second].map(async (page) =>
                [
                  await page.getByTestId('stage-title').textContent(),
                  await page.getByTestId('spare').textContent(),
                  await page
                    .getByTestId('notices')
                    .textContent()
                    .catch(() => ''),
                ].join(' · '),
              ),
            );
            throw new Error(`${error.message}\n${words.join('\n')}`);
          });
        await hold(first.page, 50 + chance.below(20));
        await first.page.waitForTimeout(4000 + 2500 * chance.share());
        const stands = await second.getByTestId('spare').textContent();
        if (!stands?.includes('in step since')) throw new Error(`before the end of the first: ${stands}`);
        const now = Date.now();
        const before = await heardDb(first.page, now - WINDOW_MS, now);
        const levels: number[] = [];
        for (let to = now - SWAY_MS; to <= now; to += STEP_MS)
          levels.push(await heardDb(first.page, to - WINDOW_MS, to));
        const killed = Date.now();
        await end();
        await second.getByTestId('spare').getByText('one plays alone').waitFor();
        await second.waitForTimeout(WINDOW_MS + 300);
        const at = await heardSince(second, killed, before - 12);
        const offDb = (await heardDb(second, at + 20, at + 20 + WINDOW_MS)) - before;
        const gap = Math.max(1, Math.round((at + 20 - (now - WINDOW_MS)) / STEP_MS));
        const swayDb = Math.max(0, ...levels.slice(gap).map((level, n) => Math.abs(level - levels[n])));
        // Whoever plays here lets go of what was held there.
        await hold(second, 72);
        await second.mouse.up();
        let hangs = true;
        for (let tries = 0; tries < 120 && hangs; tries++) {
          await second.waitForTimeout(250);
          const then = Date.now();
          hangs = (await heardDb(second, then - 200, then)) > -70;
        }
        all.push({ afterMs: at - killed, offDb, swayDb, hangs });
        told(n, all.at(-1)!);
        await second.context().close();
        rmSync(profile, { recursive: true, force: true });
      } finally {
        await end();
      }
    }
  } finally {
    await browser.close();
    for (const server of servers) server.kill();
  }
  return all;
}
