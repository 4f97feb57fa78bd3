import { prepareSample } from '../core/dsp/sample';
import { compile } from '../core/engine/program/compile';
import { markAt, newEffect, newLayer, newPatch, newSound, newZone } from '../core/rig/defaults';
import { METER, METER_LENGTH, type ToEngine } from './protocol';

/** The processor as the audio thread runs it, its surroundings stood in for. */
interface Processor {
  port: { onmessage: (message: { data: ToEngine }) => void; posted: unknown[] };
  process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean;
}
let make: () => { processor: Processor; meters: Float32Array };
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
  make = () => {
    const shared = new SharedArrayBuffer(METER_LENGTH * 4);
    return {
      processor: new Made!({ processorOptions: { seed: 1, maxVoices: 16, channels: 2, meters: shared, scope: null } }),
      meters: new Float32Array(shared),
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
