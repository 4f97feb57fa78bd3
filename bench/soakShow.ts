import { readFileSync } from 'node:fs';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { compile, contextOf } from '../src/core/engine/program/compile';
import { Engine } from '../src/core/engine/engine';
import type { EngineEvent } from '../src/core/engine/hands/event';
import { prepare } from '../src/core/formats/prepare';
import { needsNoFile } from '../src/core/sounds/synth/tableIds';
import { readArchive } from '../src/core/formats/rigArchive';
import { Chance } from '../src/core/dsp/chance';
import { patchAsPlayed, setlistOf, stepsOf } from '../src/core/rig/setlist';

const RATE = 48000;
const BLOCK = 128;
const EVENTS_IN_A_BLOCK = 8;
const MOST_HELD = 10;
/** Growth that counts as none: what the collector has not got to yet. */
const LEVEL_MB = 24;

/** What the whole show came to. */
export interface ShowSoak {
  seconds: number;
  events: number;
  changes: number;
  bad: number;
  stuck: number;
  peak: number;
  heapMb: number[];
  tookSeconds: number;
}

/** Hands by chance: each call gives the next thing that they do. Keys are let go of in the end as often as they were struck. */
export function handsByChance(chance: Chance): () => EngineEvent {
  const anyOf = (count: number) => Math.floor(chance.share() * count);
  const held: { key: number; channel: number }[] = [];
  return (): EngineEvent => {
    const what = chance.share();
    const channel = 1 + anyOf(3);
    if (what < 0.005 && held.length < MOST_HELD) {
      const key = 30 + anyOf(66);
      held.push({ key, channel });
      return { type: 'noteOn', channel, key, velocity: 1 + anyOf(127) };
    }
    if (what < 0.012 && held.length > 0) {
      const [{ key, channel: its }] = held.splice(anyOf(held.length), 1);
      return { type: 'noteOff', channel: its, key, velocity: 64 };
    }
    if (what < 0.02)
      return {
        type: 'controller',
        channel,
        controller: [64, 66, 67][anyOf(3)],
        value: chance.share() < 0.25 ? 127 : 0,
      };
    if (what < 0.55) return { type: 'controller', channel, controller: [1, 2, 4, 11, 74][anyOf(5)], value: anyOf(128) };
    if (what < 0.65) return { type: 'bend', channel, bend: 2 * chance.share() - 1 };
    if (what < 0.75) return { type: 'channelPressure', channel, pressure: anyOf(128) };
    if (what < 0.9) return { type: 'macro', number: 1 + anyOf(8), value: chance.share() };
    if (what < 0.98)
      return { type: 'xy', number: 1 + anyOf(2), x: chance.share(), y: chance.share(), letGo: chance.share() < 0.2 };
    if (what < 0.99) return { type: 'tempo', tempo: chance.share() < 0.5 ? null : 40 + anyOf(160) };
    return { type: 'voices', most: chance.share() < 0.7 ? null : 24 + anyOf(200) };
  };
}

/**
 * The show of a rig in time-lapse: random keys, wheels, pedals, macros and dots, eight in each block of 128 frames, and
 * a change of step every few seconds, sometimes many in one. Held notes are let go of at the
 * end: whatever sounds after the longest tail is stuck.
 */
export function soakShow(
  path: string,
  seconds: number,
  seed: number,
  told: (second: number, soak: ShowSoak) => void = () => undefined,
): ShowSoak {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  const { rig, wavs } = readArchive(readFileSync(path));
  const programs = stepsOf(rig, setlistOf(rig)).flatMap(({ patch, entry }) =>
    patch ? [compile(patchAsPlayed(patch, entry), contextOf(rig, RATE))] : [],
  );
  const engine = new Engine({ rate: RATE, seed });
  engine.prepareKinds();
  const there = new Set<string>();
  for (const request of programs.flatMap(({ samples }) => samples)) {
    if (there.has(request.key)) continue;
    there.add(request.key);
    engine.addSample(request.key, prepare(request, needsNoFile(request) ? undefined : wavs.get(request.sampleId)!));
  }
  const played = programs.map(({ samples: _, ...program }) => program);
  const chance = new Chance(seed);
  const anyOf = (count: number) => Math.floor(chance.share() * count);
  const event = handsByChance(chance);
  const left = new Float32Array(BLOCK);
  const right = new Float32Array(BLOCK);
  const soak: ShowSoak = { seconds, events: 0, changes: 0, bad: 0, stuck: 0, peak: 0, heapMb: [], tookSeconds: 0 };
  const began = performance.now();
  const blocksInAll = Math.round((seconds * RATE) / BLOCK);
  const aMinute = Math.round((60 * RATE) / BLOCK);
  const run = () => {
    engine.process(left, right, BLOCK);
    for (let i = 0; i < BLOCK; i++) {
      if (!(Math.abs(left[i]) <= 1 && Math.abs(right[i]) <= 1)) soak.bad++;
      soak.peak = Math.max(soak.peak, Math.abs(left[i]));
    }
  };
  let untilChange = 0;
  for (let block = 0; block < blocksInAll; block++) {
    if (untilChange-- <= 0) {
      // Mostly a few seconds apart; now and then, hands that search for the right one.
      const next = anyOf(played.length);
      engine.setProgram(played[next]);
      soak.changes++;
      untilChange = chance.share() < 0.15 ? anyOf(20) : 400 + anyOf(1800);
    }
    // All at one frame: each frame with an event of its own ends a span, which costs more than the events.
    const at = engine.frame + anyOf(BLOCK);
    for (let n = 0; n < EVENTS_IN_A_BLOCK; n++) {
      engine.handle(event(), at);
      soak.events++;
    }
    run();
    if (block % aMinute === aMinute - 1) {
      collect();
      soak.heapMb.push(Math.round((process.memoryUsage().heapUsed + process.memoryUsage().arrayBuffers) / 1e5) / 10);
      soak.tookSeconds = (performance.now() - began) / 1000;
      told(((block + 1) * BLOCK) / RATE, soak);
    }
  }
  for (let n = 0; n < 4; n++) run();
  for (let channel = 1; channel <= 16; channel++)
    for (const controller of [64, 66, 67]) engine.handle({ type: 'controller', channel, controller, value: 0 });
  for (let channel = 1; channel <= 16; channel++)
    for (let key = 0; key < 128; key++) engine.handle({ type: 'noteOff', channel, key, velocity: 64 });
  // Longer than the longest tail and release of the show.
  for (let n = 0; n < (40 * RATE) / BLOCK; n++) run();
  soak.stuck = engine.voiceCount + engine.ringingCount;
  soak.tookSeconds = (performance.now() - began) / 1000;
  return soak;
}

/** Whether memory has grown from the first minutes to the last. */
export const hasGrown = ({ heapMb }: ShowSoak): boolean =>
  heapMb.length > 4 && heapMb[heapMb.length - 1] - heapMb[2] > LEVEL_MB;
