import { HOSTS, movedThrough, type Ways } from '../../tests/kit/companyMoved';
import { Tally, type Outcome, type Part } from './part';

const STEPS = 24;
const RATES = [44100, 48000, 96000];

/** One of each kind of source, and all at once; an LFO at rest, in its usual range, and as fast as it goes. */
const WAYS: readonly Ways[] = [
  { name: 'a macro', sources: [['macro.1', 1]], hz: 1 },
  { name: 'a controller, the other way', sources: [['cc.1', -1]], hz: 1 },
  {
    name: 'pressure and bend',
    sources: [
      ['pressure', 1],
      ['bend', -0.5],
    ],
    hz: 1,
  },
  {
    name: 'what the strike says',
    sources: [
      ['velocity', 1],
      ['key', -1],
    ],
    hz: 1,
  },
  { name: 'a slow LFO', sources: [['lfo.1', 1]], hz: 0.1 },
  { name: 'an LFO at its fastest', sources: [['lfo.1', 1]], hz: 40 },
  {
    name: 'two macros that pull both ways',
    sources: [
      ['macro.1', 1],
      ['macro.1', -1],
      ['cc.1', 0.3],
    ],
    hz: 1,
  },
  {
    name: 'a macro, a controller and an LFO',
    sources: [
      ['macro.1', 1],
      ['cc.1', -1],
      ['lfo.1', 1],
    ],
    hz: 19,
  },
];

/** One host moved in one way at one rate: all of them, by number. */
const TRIALS = HOSTS.flatMap(([name, host]) =>
  WAYS.flatMap((ways) => RATES.map((rate) => ({ name, host, ways, rate }))),
);

function tryTrials(first: number, count: number): Outcome {
  const tally = new Tally();
  for (const { name, host, ways, rate } of TRIALS.slice(first, first + count)) {
    const { moved, wrong } = movedThrough(host, ways, STEPS, rate);
    tally.count('parameters moved through their range', moved);
    tally.count('values set', moved * (STEPS + 1));
    if (moved === 0) tally.fail(`${name} by ${ways.name}: nothing was moved`);
    for (const each of wrong) tally.fail(`${name}, ${rate} Hz: ${each}`);
  }
  return tally.outcome;
}

export const PARAMETERS: Part = {
  name: 'parameters',
  promise:
    'Every parameter of every kind, effect, mover, group, pad and of the mix may be moved by anything through its whole range: no throw, nothing that is no number, no choice that is not whole, never above full scale',
  against: `the registry: ${HOSTS.length} hosts, ${WAYS.length} ways of moving, 44.1, 48 and 96 kHz, ${STEPS + 1} values each`,
  items: 'hosts moved in one way',
  count: TRIALS.length,
  chunk: 4,
  try: tryTrials,
};
