import { STAND_IN_INPUT } from './audioInputs';
import { LiveInput } from './liveInput';

/** A browser whose player answers when the test lets it. */
class Source {
  connect(): void {}
  disconnect(): void {}
}
class Analyser extends Source {
  context = { sampleRate: 48000 };
  getFloatTimeDomainData(): void {}
  getFloatFrequencyData(into: Float32Array): void {
    into.fill(-120);
  }
}
const stopped: string[] = [];
const streamOf = (name: string) => {
  const track = { onended: null as null | (() => void), stop: () => stopped.push(name) };
  return { track, getTracks: () => [track] };
};
let answers: { resolve: (stream: unknown) => void; reject: (error: Error) => void }[] = [];

function begin() {
  const heard: (AudioNode | null)[] = [];
  const ears = {
    context: { createMediaStreamSource: () => new Source() } as unknown as AudioContext,
    start: () => Promise.resolve(),
    hear: (source: AudioNode | null) => heard.push(source),
  };
  return { live: new LiveInput(ears), heard, ears };
}
const settle = async () => {
  for (let i = 0; i < 10; i++) await Promise.resolve();
};
beforeEach(() => {
  jest.useFakeTimers();
  stopped.length = 0;
  answers = [];
  Object.assign(globalThis, { AnalyserNode: Analyser });
  Object.defineProperty(globalThis, 'navigator', {
    configurable: true,
    value: {
      mediaDevices: {
        getUserMedia: () => new Promise((resolve, reject) => answers.push({ resolve, reject })),
      },
    },
  });
});
afterEach(() => {
  jest.useRealTimers();
});

test('it begins muted, opens where the player permits it, and is muted by hand', async () => {
  const { live, heard } = begin();
  expect(live.state).toBe('muted');
  void live.open();
  await settle();
  expect(live.state).toBe('asking');
  answers[0].resolve(streamOf('a'));
  await settle();
  expect(live.state).toBe('open');
  expect(heard.at(-1)).toBeInstanceOf(Source);
  live.mute();
  expect([live.state, live.problem, heard.at(-1), stopped]).toEqual(['muted', '', null, ['a']]);
});

test('muted while the browser still asks: what the player permits later is not opened', async () => {
  const { live, heard } = begin();
  void live.open();
  await settle();
  live.mute();
  answers[0].resolve(streamOf('late'));
  await settle();
  expect([live.state, heard.at(-1), stopped]).toEqual(['muted', null, ['late']]);
  // A refusal that comes late does not say anything any more.
  void live.open();
  await settle();
  live.mute('the take is over');
  answers[1].reject(Object.assign(new Error('no'), { name: 'NotAllowedError' }));
  await settle();
  expect(live.problem).toBe('the take is over');
});

test('opened twice, or with another device while it asks: the last one alone is open', async () => {
  const { live } = begin();
  void live.open();
  await settle();
  void live.open();
  await settle();
  answers[1].resolve(streamOf('second'));
  await settle();
  answers[0].resolve(streamOf('first'));
  await settle();
  expect([live.state, stopped]).toEqual(['open', ['first']]);
  void live.use({ id: 'other', name: 'Other' });
  await settle();
  void live.use({ id: 'third', name: 'Third' });
  await settle();
  expect(answers).toHaveLength(4);
  answers[3].resolve(streamOf('third'));
  answers[2].resolve(streamOf('other'));
  await settle();
  expect([live.state, stopped]).toEqual(['open', ['first', 'second', 'other']]);
});

test('refused, gone, or no sound yet: muted, and it says why', async () => {
  const { live, ears } = begin();
  void live.open();
  await settle();
  answers[0].reject(Object.assign(new Error('no'), { name: 'NotAllowedError' }));
  await settle();
  expect([live.state, live.problem]).toEqual(['muted', expect.stringContaining('did not permit')]);
  void live.open();
  await settle();
  const stream = streamOf('a');
  answers[1].resolve(stream);
  await settle();
  stream.track.onended!();
  expect([live.state, live.problem]).toEqual(['muted', expect.stringContaining('is gone')]);
  ears.context = null as unknown as AudioContext;
  await live.use(STAND_IN_INPUT);
  await live.open();
  expect([live.state, live.problem]).toEqual(['muted', 'sound does not run yet']);
});
