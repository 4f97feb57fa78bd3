import { newPatch } from '../core/rig/defaults';
import { compile } from '../core/engine/program/compile';
import type { AudioHost } from './audioHost';
import { InStep } from './inStep';
import { OWN, type ToEngine } from './protocol';

const program = compile(newPatch('p', 'p'), { sounds: [], samples: [], keyLow: 0, keyHigh: 127 });
const note = { type: 'noteOn', channel: 1, key: 60, velocity: 90 } as const;
/** One of each kind that there is: the compiler says where one is missing. */
const ALL: { [T in ToEngine['type']]: Extract<ToEngine, { type: T }> } = {
  program: { type: 'program', program, serial: 1 },
  scope: { type: 'scope', place: null },
  samples: { type: 'samples', samples: [] },
  keepSamples: { type: 'keepSamples', keys: [] },
  event: { type: 'event', event: note },
  echo: { type: 'echo' },
  beside: { type: 'beside', player: 1, message: { type: 'event', event: note } },
  besideGain: { type: 'besideGain', player: 1, gain: 1 },
  outputs: { type: 'outputs', map: [0], click: -1 },
  click: { type: 'click', sound: null },
  told: { type: 'told', at: 0, ahead: 0, message: { type: 'echo' } },
  upTo: { type: 'upTo', blocks: 1 },
  lead: { type: 'lead' },
  hush: { type: 'hush' },
  end: { type: 'end' },
  audition: { type: 'audition', message: { type: 'event', event: note } },
};

/** An engine's side of the host that only remembers what gets through. */
function host() {
  const heard: ToEngine[] = [];
  const audio = {
    follows: false,
    way: null as InStep | null,
    begun: [] as (number | undefined)[],
    said: 0,
    say(message: ToEngine) {
      const passed = audio.way!.pass(message);
      if (passed) heard.push(passed);
    },
    beginAnew(rate?: number) {
      audio.begun.push(rate);
      return Promise.resolve();
    },
    sayWhereTo: () => void audio.said++,
  };
  const inStep = new InStep(audio as unknown as AudioHost);
  return { audio, inStep, heard };
}

test.each(Object.values(ALL))(
  'an engine that follows hears of its own page what is of this machine: $type',
  (message) => {
    const { audio, inStep, heard } = host();
    const counted: number[] = [];
    inStep.onSaid = (n) => counted.push(n);
    audio.say(message);
    expect(heard).toEqual([message]);
    audio.follows = true;
    audio.say(message);
    expect(heard.length).toBe(OWN.has(message.type) ? 2 : 1);
    // What the other machine told gets through, with its block.
    inStep.asTold(7, 3, () => audio.say(message));
    expect(heard.at(-1)).toEqual({ type: 'told', at: 7, ahead: 3, message });
    // Each that the engine receives is counted, and no other: it counts them as well.
    expect(counted).toEqual(heard.map((_, n) => n));
  },
);

test('one that hushes lets go of everything, once; one that leads says where its pairs go', async () => {
  const { audio, inStep, heard } = host();
  inStep.hush();
  inStep.hush();
  expect(heard).toEqual([{ type: 'hush' }, { type: 'event', event: { type: 'panic' } }]);
  await inStep.follow(44100);
  expect([audio.follows, audio.begun]).toEqual([true, [44100]]);
  inStep.lead();
  expect([audio.follows, audio.said, heard.at(-1)]).toEqual([false, 1, { type: 'lead' }]);
});

test('a told message that fails leaves the page’s own as they were', () => {
  const { audio, inStep, heard } = host();
  audio.follows = true;
  expect(() =>
    inStep.asTold(1, 0, () => {
      throw new Error('no');
    }),
  ).toThrow('no');
  audio.say(ALL.event);
  expect(heard).toEqual([]);
});
