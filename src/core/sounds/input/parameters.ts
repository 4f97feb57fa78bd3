import { define } from '../../space/parameter';

const common = { reach: 'note', of: 'input' } as const;
/** Which side of an input device is heard. */
export const INPUT_SIDES = ['both sides', 'the left alone', 'the right alone'];
/** How an input is opened. */
export const INPUT_OPENS = ['while keys are held', 'always'];
/** Below this the gate is open whatever comes in. */
export const GATE_OFF_DB = -90;

/** The parameters of a sound that comes from outside. Values and routes are the layer's. */
export const INPUT_PARAMETERS = define({
  inputGain: {
    ...common,
    label: 'input gain',
    unit: 'dB',
    low: -60,
    high: 24,
    default: 0,
    law: 'dB',
    sides: 1,
    sense: [-12, 12],
    help: 'How much louder or softer what comes in is; the lowest value is silence.',
  },
  inputGate: {
    ...common,
    label: 'gate',
    unit: 'dB',
    low: GATE_OFF_DB,
    high: 0,
    default: GATE_OFF_DB,
    law: 'linear',
    sides: 1,
    sense: [-60, -30],
    help: 'What is softer than this is shut out; the lowest value lets everything in.',
  },
  inputSide: {
    ...common,
    label: 'hears',
    unit: '',
    low: 0,
    high: 2,
    default: 0,
    law: 'steps',
    sides: 1,
    steps: INPUT_SIDES,
    help: 'Which side of the input is heard.',
  },
  inputOpen: {
    ...common,
    label: 'is open',
    unit: '',
    low: 0,
    high: 1,
    default: 1,
    law: 'steps',
    atStrike: true,
    sides: 1,
    steps: INPUT_OPENS,
    help: 'Whether it is heard always, or while keys are held that the layer answers.',
  },
});
