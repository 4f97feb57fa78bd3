import { prepareSample } from '../core/dsp/sample';
import { compile } from '../core/engine/program/compile';
import { markAt, newEffect, newLayer, newPatch, newSound, newZone } from '../core/rig/defaults';
import { METER, METER_LENGTH, type ToEngine } from './protocol';
import { STEP_LOG_BYTES, StepReader, type Sum } from './stepLog';
import { Chance } from '../core/dsp/chance';

/** The processor as the audio thread runs it, its surroundings stood in for. */
interface Processor {
  port: { onmessage: (message: { data: ToEngine }) => void; posted: unknown[] };
  process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean;
}
let make: (follows?: boolean) => { processor: Processor; meters: Float32Array; log: SharedArrayBuffer };
beforeAll(async () => {
  let Made: (new (options: unknown) => Processor) | undefined;
  Object.assign(globalThis, {
    sampleRate: 48000,
    currentTime: 0,
    AudioWorkletProcessor: class {
      port = {
        posted: [] as unknown[],
        postMessage(message: unknown) {
          this.posted.push(message);
        },
      };
    },
    registerProcessor: (_name: string, processor: typeof Made) => {
      Made = processor;
    },
  });
  await import('./engineProcessor');
  make = (follows = false) => {
    const shared = new SharedArrayBuffer(METER_LENGTH * 4);
    const log = new SharedArrayBuffer(STEP_LOG_BYTES);
    return {
      processor: new Made!({
        processorOptions: { seed: 1, maxVoices: 16, channels: 2, meters: shared, scope: null, log, follows },
      }),
      meters: new Float32Array(shared),
      log,
    };
  };
});

const audio = { rate: 48000, channels: 1 as const, data: new Float32Array(48000).fill(0.5) };
const program = (level: number) =>
  compile(
    { ...newPatch('p', 'p'), layers: [{ ...newLayer('l', 'l', 's', markAt(0)), params: { level, pan: -1 } }] },
    {
      sounds: [newSound('s', 'S', [{ ...newZone('w', 60), playback: 'full-length' }, newZone('w', 62)])],
      samples: [{ id: 'w', name: 'w', rate: 48000, channels: 1, frames: 48000 }],
      keyLow: 21,
      keyHigh: 108,
    },
  );
const samples = program(0).samples.map(({ key }) => ({ key, sample: prepareSample(audio, null, 3) }));
const note = (key: number): ToEngine => ({ type: 'event', event: { type: 'noteOn', channel: 1, key, velocity: 127 } });

function run(processor: Processor, blocks: number): number {
  const outputs = [[new Float32Array(128), new Float32Array(128)]];
  for (let i = 0; i < blocks; i++) expect(processor.process([], outputs)).toBe(true);
  return outputs[0][0][127];
}
const say = (processor: Processor, ...messages: ToEngine[]) => {
  for (const data of messages) processor.port.onmessage({ data });
};

test('an audition sounds beside what plays and leaves it as it was', () => {
  const { processor, meters } = make();
  say(processor, { type: 'program', program: program(-6.0206), serial: 5 }, { type: 'samples', samples }, note(60));
  expect(run(processor, 40)).toBeCloseTo(0.25, 3);
  say(
    processor,
    ...(
      [{ type: 'program', program: program(-12.0412), serial: 0 }, { type: 'samples', samples }, note(60)] as const
    ).map((message): ToEngine => ({ type: 'audition', message: message as never })),
  );
  expect(run(processor, 40)).toBeCloseTo(0.25 + 0.125, 3);
  expect(meters[METER.program]).toBe(5);
  expect(meters[METER.voices]).toBe(1);
  say(processor, { type: 'audition', message: { type: 'event', event: { type: 'panic' } } });
  expect(run(processor, 20)).toBeCloseTo(0.25, 3);
});

test('an audition ends by itself, what its limiter holds included', () => {
  const { processor } = make();
  say(
    processor,
    ...([{ type: 'program', program: program(0), serial: 0 }, { type: 'samples', samples }, note(60)] as const).map(
      (message): ToEngine => ({ type: 'audition', message: message as never }),
    ),
  );
  expect(run(processor, 100)).toBeCloseTo(0.5, 3);
  expect(run(processor, 400)).toBe(0);
});

test('what plays along comes out at the same frame, whatever effects make either of them late', () => {
  const limited = compile(
    {
      ...newPatch('q', 'q'),
      main: { level: 0, width: 100, effects: [newEffect('e', 'limiter')] },
      layers: [{ ...newLayer('l', 'l', 's', markAt(0)), params: { level: -20, pan: -1 } }],
    },
    {
      sounds: [newSound('s', 'S', [{ ...newZone('w', 60), playback: 'full-length' }])],
      samples: [{ id: 'w', name: 'w', rate: 48000, channels: 1, frames: 48000 }],
      keyLow: 21,
      keyHigh: 108,
    },
  );
  const strike = { type: 'event', event: { type: 'noteOn', channel: 1, key: 60, velocity: 127 }, time: 0.01 } as const;
  const first = (main: boolean, beside: boolean) => {
    const { processor } = make();
    say(processor, { type: 'samples', samples }, { type: 'program', program: limited, serial: 1 });
    say(
      processor,
      { type: 'beside', player: 1, message: { type: 'samples', samples } },
      { type: 'beside', player: 1, message: { type: 'program', program: program(-20), serial: 0 } },
    );
    if (main) say(processor, strike);
    if (beside) say(processor, { type: 'beside', player: 1, message: strike });
    const out: number[] = [];
    for (let i = 0; i < 12; i++) {
      const block = [[new Float32Array(128), new Float32Array(128)]];
      processor.process([], block);
      out.push(...block[0][0]);
    }
    return out.findIndex((x) => x !== 0);
  };
  expect(first(true, false)).toBeGreaterThan(480);
  expect(first(false, true)).toBe(first(true, false));
  // Its level is its own.
  const { processor } = make();
  say(
    processor,
    { type: 'besideGain', player: 2, gain: 0.5 },
    { type: 'beside', player: 2, message: { type: 'samples', samples } },
    { type: 'beside', player: 2, message: { type: 'program', program: program(0), serial: 0 } },
    { type: 'beside', player: 2, message: note(60) as never },
  );
  expect(run(processor, 40)).toBeCloseTo(0.25, 2);
});

test('the zones that answered stand beside the meters', () => {
  const { processor, meters } = make();
  say(processor, { type: 'program', program: program(0), serial: 1 }, { type: 'samples', samples }, note(62), note(60));
  run(processor, 2);
  expect(meters[METER.answerCount]).toBe(2);
  expect([meters[METER.answers], meters[METER.answers + 1]]).toEqual([1, 0]);
});

test('an echo comes back in its turn', () => {
  const { processor } = make();
  say(processor, { type: 'program', program: program(0), serial: 1 });
  expect(processor.port.posted).toEqual([]);
  say(processor, { type: 'echo' });
  expect(processor.port.posted).toEqual([{ type: 'echo' }]);
});

test('a message that cannot be understood is reported, and the sound goes on', () => {
  const { processor } = make();
  say(processor, { type: 'program', program: program(0), serial: 1 }, { type: 'samples', samples }, note(60));
  run(processor, 20);
  say(processor, { type: 'samples', samples: null } as never);
  expect(processor.port.posted).toContainEqual(expect.objectContaining({ type: 'failed' }));
  expect(run(processor, 2)).toBeCloseTo(0.5, 3);
});

/** A leader that is played by chance, and one that follows over a line that delivers in bursts. */
function inStep(seed: number, blocks: number, heard: (leader: number, follower: number) => void = () => undefined) {
  const chance = new Chance(seed);
  const leader = make();
  const follower = make(true);
  const reader = new StepReader(leader.log);
  const own = new StepReader(follower.log);
  const said: ToEngine[] = [];
  const tell = (message: ToEngine) => {
    said.push(message);
    say(leader.processor, message);
  };
  tell({ type: 'program', program: program(-6), serial: 1 });
  tell({ type: 'samples', samples });
  say(follower.processor, { type: 'samples', samples });
  const sums: { leader: Sum[]; follower: Sum[] } = { leader: [], follower: [] };
  for (let n = 0; n < blocks; n++) {
    const dice = chance.share();
    const key = 59 + chance.below(5);
    if (dice < 0.02) tell(note(key));
    else if (dice < 0.04) tell({ type: 'event', event: { type: 'noteOff', channel: 1, key, velocity: 64 } });
    else if (dice < 0.05) tell({ type: 'program', program: program(-6 - chance.below(12)), serial: 2 + n });
    else if (dice < 0.06) tell({ type: 'event', event: { type: 'bend', channel: 1, bend: 2 * chance.share() - 1 } });
    else if (dice < 0.07) tell({ ...note(key), time: 0.4 * chance.share() } as ToEngine);
    heard(run(leader.processor, 1), run(follower.processor, chance.below(8) === 0 ? 2 : 1));
    // The line: now and then it delivers what has gathered.
    if (chance.below(12) > 0) continue;
    const upTo = reader.read((m, at, ahead) => {
      const message = said[m];
      if (message.type !== 'samples') say(follower.processor, { type: 'told', at, ahead, message });
    });
    say(follower.processor, { type: 'upTo', blocks: upTo! });
    sums.leader.push(...reader.sums());
    sums.follower.push(...own.sums());
  }
  return { leader, follower, sums };
}

test.each([1, 2, 3])('one that follows makes the same bits, and is not heard: %i', (seed) => {
  let loudest = 0;
  const { sums } = inStep(seed, 2500, (_, follower) => {
    loudest = Math.max(loudest, Math.abs(follower));
  });
  expect(loudest).toBe(0);
  expect(sums.follower.length).toBeGreaterThan(4);
  expect(sums.follower).toEqual(sums.leader.slice(0, sums.follower.length));
  expect(new Set(sums.leader.map(({ hash }) => hash)).size).toBeGreaterThan(4);
});

test('a step that was not told is found by the sum', () => {
  const { leader, follower, sums } = inStep(4, 1200);
  expect(sums.follower).toEqual(sums.leader.slice(0, sums.follower.length));
  const readers = [leader, follower].map(({ log }) => new StepReader(log));
  for (const reader of readers) reader.sums();
  say(leader.processor, note(60));
  run(leader.processor, 1000);
  say(follower.processor, { type: 'upTo', blocks: readers[0].blocks });
  run(follower.processor, 1000);
  const [a, b] = readers.map((reader) => reader.sums());
  expect(a.at(-1)!.second).toBe(b.at(-1)!.second);
  expect(a.at(-1)!.hash).not.toBe(b.at(-1)!.hash);
});

test('it takes over where the other stopped: what is held goes on at its level, without a step', () => {
  const { leader, follower } = inStep(5, 800);
  const reader = new StepReader(leader.log);
  say(leader.processor, { type: 'event', event: { type: 'panic' } }, note(60));
  run(leader.processor, 200);
  for (const message of [{ type: 'event', event: { type: 'panic' } } as const, note(60)])
    say(follower.processor, { type: 'told', at: reader.blocks - 200, ahead: 0, message });
  say(follower.processor, { type: 'upTo', blocks: reader.blocks });
  const level = run(leader.processor, 1);
  run(follower.processor, 900);
  // The leader is gone. What follows stands, and then leads.
  say(follower.processor, { type: 'lead' });
  let before = 0;
  let steepest = 0;
  let last = 0;
  for (let n = 0; n < 40; n++) {
    last = run(follower.processor, 1);
    steepest = Math.max(steepest, Math.abs(last - before));
    before = last;
  }
  expect(last).toBeCloseTo(level, 3);
  expect(steepest).toBeLessThan(Math.abs(level));
  // Its own keys work at once, and one that hushes is silent.
  say(follower.processor, { type: 'event', event: { type: 'noteOff', channel: 1, key: 60, velocity: 64 } });
  expect(Math.abs(run(follower.processor, 300))).toBeLessThan(0.001);
  say(follower.processor, note(60));
  expect(Math.abs(run(follower.processor, 100))).toBeGreaterThan(0.05);
  say(follower.processor, { type: 'hush' });
  expect(run(follower.processor, 10)).toBe(0);
});

test('one that another replaces is silent at once, and says that it has ended', () => {
  const { processor } = make();
  say(processor, { type: 'program', program: program(0), serial: 1 }, { type: 'samples', samples }, note(60));
  expect(Math.abs(run(processor, 40))).toBeGreaterThan(0.1);
  say(processor, { type: 'end' });
  const outputs = [[new Float32Array(128), new Float32Array(128)]];
  expect(processor.process([], outputs)).toBe(false);
  expect(outputs[0][0].every((x) => x === 0)).toBe(true);
});

test('a page that was away too long is told so, and never a part', () => {
  const { processor, log } = make();
  const reader = new StepReader(log);
  for (let n = 0; n < 3000; n++) say(processor, { type: 'echo' });
  expect(reader.read(() => undefined)).toBeUndefined();
});

test('what cannot be done is told and counted, from the page as from the machine that leads; nothing is thrown', () => {
  const bad = { type: 'program', program: null, serial: 1 } as never;
  const leader = make();
  say(leader.processor, bad, note(60));
  run(leader.processor, 1);
  const seen: number[] = [];
  expect(new StepReader(leader.log).read((n) => seen.push(n))).toBe(1);
  expect(seen).toEqual([0, 1]);
  const follower = make(true);
  say(follower.processor, { type: 'told', at: 0, ahead: 0, message: bad }, { type: 'upTo', blocks: 5 });
  run(follower.processor, 5);
  for (const { processor } of [leader, follower])
    expect(processor.port.posted).toContainEqual({ type: 'failed', message: expect.any(String) as string });
});
