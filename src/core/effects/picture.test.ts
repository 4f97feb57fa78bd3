/**
 * Pictures are held against the effects themselves, at the ends of every range: a tone goes in for as long as it takes,
 * and comes out as loud as the picture says.
 */
import { BAND_KINDS } from './equaliser';
import { EFFECTS, effectKind } from './index';
import { effectForPicture, pictureOf } from './picture';
import { rmsDb } from './pictureLevels';

const RATE = 48000;
/** Of those whose response is one and the same at all times; what moves, rings or listens has one for each moment. */
const STEADY = ['equaliser', 'tilt', 'partials', 'comb', 'distance', 'width'];
const CURVES = EFFECTS.filter(({ picture }) => picture === 'curve').map(({ id }) => id);

/** Level of a tone behind the effect, in dB over what went in, once it has settled. */
function heard(kind: string, values: Record<string, number>, hz: number, inDb: number, seconds: number): number {
  const { effect } = effectForPicture(kind, values, [], 120);
  const height = 10 ** (inDb / 20);
  // Whole waves in what is measured, as nearly as may be.
  const waves = Math.max(1, Math.round(hz * 0.1));
  const window = Math.round((waves * RATE) / hz);
  const frames = Math.ceil((seconds * RATE) / 32) * 32 + Math.ceil(window / 32) * 32;
  const left = Float32Array.from({ length: frames }, (_, i) => height * Math.sin((2 * Math.PI * hz * i) / RATE));
  const right = left.slice();
  const mix = (values.mix ?? effectKind(kind).parameters.mix.default) / 100;
  const dry = left.slice();
  for (let at = 0; at < frames; at += 32) effect.process(left, right, at, at + 32);
  if (mix < 1) for (let i = 0; i < frames; i++) left[i] = left[i] * mix + dry[i] * (1 - mix);
  return rmsDb(left, frames - window, frames) + 3.0103 - inDb;
}

/** The point of a picture next to a frequency. */
const pointNear = ({ x }: { x: number[] }, hz: number): number =>
  x.reduce((best, each, n) => (Math.abs(Math.log(each / hz)) < Math.abs(Math.log(x[best] / hz)) ? n : best), 0);

/** Seconds in which everything of an effect has settled to a quarter of a per cent. */
function secondsFor(id: string, values: Record<string, number>): number {
  const kind = effectKind(id);
  const list = Object.values(kind.parameters).map((parameter) => values[parameter.id] ?? parameter.default);
  const times = Object.values(kind.parameters).map(({ unit }, n) => (unit === 's' ? list[n] : 0));
  return 0.3 + 6 * Math.max(kind.settles?.(Float64Array.from(list)) ?? 0, ...times);
}

/** The values of a kind with one parameter at an end of its range. */
const endsOf = (id: string): Record<string, number>[] =>
  Object.values(effectKind(id).parameters).flatMap((parameter) => [
    { [parameter.id]: parameter.low },
    { [parameter.id]: parameter.high },
  ]);

const bell = BAND_KINDS.indexOf('bell');
const BELLS = [20, 40, 1000, 20000].flatMap((frequency3) =>
  [0.1, 20].flatMap((q3) => [-24, 24].map((gain3) => ({ kind3: bell, frequency3, q3, gain3 }))),
);

test.each(STEADY)('%s: drawn as it is heard', (id) => {
  const { parameters } = effectKind(id);
  const settings = [{}, ...endsOf(id), ...(id === 'equaliser' ? BELLS : [])];
  for (const values of settings) {
    const picture = pictureOf(id, values);
    const own = Object.values(parameters).flatMap(({ id: name, unit, default: usual }) =>
      unit === 'Hz' ? [(values as Record<string, number>)[name] ?? usual] : [],
    );
    const all = [
      ...new Set([
        ...own.slice(0, 3),
        ...(id === 'equaliser' ? [(values as { frequency3?: number }).frequency3 ?? 500] : []),
        250,
      ]),
    ].filter((hz) => hz >= 20 && hz < 20000);
    for (const hz of all) {
      const n = pointNear(picture, hz);
      const shown = picture.y[n];
      const real = heard(id, values, picture.x[n], -30, 2.8);
      // What is softer than −50 dB is at the bottom of the picture.
      if (Math.max(shown, real) > -50 && Math.abs(shown - real) > 0.5)
        throw new Error(
          `${JSON.stringify(values)} at ${hz} Hz: drawn as ${shown.toFixed(2)} dB, heard as ${real.toFixed(2)}`,
        );
    }
  }
  expect(settings.length).toBeGreaterThan(2);
});

test.each(CURVES)('%s: its curve is what comes out', (id) => {
  const settings = [{}, ...endsOf(id)];
  for (const values of settings) {
    const { x, y } = pictureOf(id, values);
    for (const inDb of [-48, -24, -6]) {
      const shown = y[x.indexOf(inDb)] - inDb;
      const real = heard(id, values, 400, inDb, secondsFor(id, values));
      if (Math.max(shown, real) > -50 && Math.abs(shown - real) > 0.5)
        throw new Error(
          `${JSON.stringify(values)} at ${inDb} dB: drawn as ${shown.toFixed(2)} dB, heard as ${real.toFixed(2)}`,
        );
    }
  }
  expect(settings.length).toBeGreaterThan(2);
});
