import * as fc from 'fast-check';
import { Chance } from '../dsp/chance';
import { markAt, newEffect, newLayer, newMover, newPatch, newRig, newSound } from '../rig/defaults';
import { patternOf } from '../music/arpeggios';
import { fromNormal, parseTarget, toNormal, type Parameter } from '../rig/parameters';
import { LAYER_PARAMETERS } from '../rig/layerParameters';
import { readRig } from '../rig/read';
import { restOfTarget } from '../rig/moves';
import type { Patch } from '../rig/schema';
import { combinationsOf, draw, drawablesIn, drawValue, musicalRange, setLock, valueOfDrawable } from './draw';
import { between, forgetDraw, goTo, keepDraw, updateDraw, wayBetween } from './history';

const sounds = [newSound('a', 'A'), { ...newSound('b', 'B'), kind: 'synth' as const }];
const arpeggio = (): Patch['layers'][number]['path'] => ({
  ...newLayer('', '', '', markAt(0)).path,
  arpeggio: { on: true, order: 'up', pattern: patternOf('XoxoX-x.'), hold: false, start: 'key' },
  chord: { on: true, notes: [4, 7], in: 'semitones', harmony: 'written' },
});
const patch: Patch = {
  ...newPatch('p', 'P'),
  layers: [
    { ...newLayer('x', 'X', 'a', markAt(0)), list: ['a', 'b'], effects: [newEffect('e1', 'reverb')] },
    { ...newLayer('y', 'Y', 'b', markAt(1)), path: arpeggio() },
  ],
  movers: [newMover('lfo', 1, 'L')],
};
const everything = drawablesIn(patch, [], sounds);
let n = 0;
const roll = (from: Patch, open: readonly string[], seed: number, amount = 1): Patch => {
  const { patch: next, changes } = draw(from, open, { amount, seed });
  return keepDraw(next, changes, { id: `d${++n}`, seed, amount, scope: 'all' });
};
const content = ({ draws: _, drawn: __, ...rest }: Patch) => rest;

describe('draws', () => {
  it('stay within the musical range of each parameter, over the whole of it at full (10⁵ draws; χ², 1 %)', () => {
    const parameter = LAYER_PARAMETERS.cutoff as Parameter;
    const [low, high] = musicalRange(parameter);
    const chance = new Chance(5);
    const bins = new Array<number>(10).fill(0);
    for (let i = 0; i < 100_000; i++) {
      const value = drawValue(parameter, 3000, 1, chance);
      const normal = toNormal(parameter, value);
      expect(normal >= low - 1e-6 && normal <= high + 1e-6).toBe(true);
      bins[Math.min(9, Math.max(0, Math.floor(((normal - low) / (high - low)) * 10)))]++;
    }
    // χ² with 9 degrees of freedom is below 21.67 in 99 of 100 cases (tables).
    expect(bins.reduce((sum, count) => sum + (count - 10_000) ** 2 / 10_000, 0)).toBeLessThan(21.67);
  });

  it('of seeds side by side have nothing in common: their correlation over 400 seeds stays within four standard errors of none', () => {
    const drawn = (seed: number, what: string) =>
      Number(valueOfDrawable(draw(patch, [what], { amount: 1, seed }).patch, what));
    const normal = (seed: number, id: string) =>
      toNormal(LAYER_PARAMETERS[id as never] as Parameter, drawn(seed, `layer.x.${id}`));
    const correlation = (a: number[], b: number[]) => {
      const mean = (of: number[]) => of.reduce((sum, x) => sum + x, 0) / of.length;
      const [ma, mb] = [mean(a), mean(b)];
      const dot = (x: number[], mx: number, y: number[], my: number) =>
        x.reduce((sum, each, i) => sum + (each - mx) * (y[i] - my), 0);
      return dot(a, ma, b, mb) / Math.sqrt(dot(a, ma, a, ma) * dot(b, mb, b, mb));
    };
    for (const id of ['pan', 'attack', 'decay']) {
      const values = Array.from({ length: 416 }, (_, seed) => normal(seed, id));
      for (const lag of [1, 2, 4, 8, 15])
        expect(Math.abs(correlation(values.slice(0, 400), values.slice(lag, 400 + lag)))).toBeLessThan(
          4 / Math.sqrt(400),
        );
    }
    expect(
      Math.abs(
        correlation(
          Array.from({ length: 400 }, (_, seed) => normal(seed, 'attack')),
          Array.from({ length: 400 }, (_, seed) => normal(seed, 'decay')),
        ),
      ),
    ).toBeLessThan(0.2);
    // The same seeds in pairs that differ in one bit.
    const even = Array.from({ length: 400 }, (_, i) => normal(2 * i, 'pan')),
      odd = Array.from({ length: 400 }, (_, i) => normal(2 * i + 1, 'pan'));
    expect(Math.abs(correlation(even, odd))).toBeLessThan(0.2);
  });

  it('go no farther than the amount, of every parameter that there is', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1e9 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (seed, amount, where) => {
          for (const parameter of Object.values<Parameter>(LAYER_PARAMETERS)) {
            const now = fromNormal(parameter, where);
            const [low, high] = musicalRange(parameter);
            const value = drawValue(parameter, now, amount, new Chance(seed));
            const [from, normal] = [toNormal(parameter, now), toNormal(parameter, value)];
            if (amount === 0 && value !== now) throw new Error(`${parameter.id} moved`);
            if (value < parameter.low || value > parameter.high) throw new Error(`${parameter.id}: ${value}`);
            if (
              normal < Math.min(from, from - amount * (from - low)) - 1e-4 ||
              normal > Math.max(from, from + amount * (high - from)) + 1e-4
            )
              throw new Error(`${parameter.id}: ${now} → ${value} at ${amount}`);
          }
        },
      ),
      { numRuns: 300 },
    );
  });

  it('are the same for the same seed, and leave what is locked, whatever else is open', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1e9 }),
        fc.subarray(everything, { minLength: 1, maxLength: 12 }),
        (seed, locked) => {
          const free = draw(patch, everything, { amount: 1, seed });
          expect(draw(patch, everything, { amount: 1, seed }).patch).toEqual(free.patch);
          const held = locked.reduce((left, what) => setLock(left, what, true), patch);
          const drawn = draw(held, everything, { amount: 1, seed });
          for (const what of everything) {
            if (locked.includes(what)) expect(valueOfDrawable(drawn.patch, what)).toEqual(valueOfDrawable(patch, what));
            else expect(valueOfDrawable(drawn.patch, what)).toEqual(valueOfDrawable(free.patch, what));
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it('lock whole layers by their beginning', () => {
    const held = setLock(patch, 'layer.x', true);
    const { changes } = draw(held, everything, { amount: 1, seed: 3 });
    expect(changes.length).toBeGreaterThan(10);
    expect(changes.some(([what]) => what.startsWith('layer.x.'))).toBe(false);
  });

  it('reach one value, a section, a layer, a group, or the patch, with effects and movers', () => {
    expect(drawablesIn(patch, ['layer.x.cutoff'], sounds)).toEqual(['layer.x.cutoff']);
    expect(drawablesIn(patch, ['layer.x.level'], sounds)).toEqual(['layer.x.level']);
    expect(drawablesIn(patch, ['layer.y'], sounds).every((what) => what.startsWith('layer.y.'))).toBe(true);
    expect(drawablesIn(patch, ['layer.x'], sounds)).toContain('reverb.e1.decay');
    expect(everything).toEqual(
      expect.arrayContaining([
        'layer.y.osc1Position',
        'layer.y.pattern',
        'layer.y.harmony',
        'lfo.1.rate',
        'layer.x.sound',
      ]),
    );
    // A layer of samples has no oscillators; what plays samples and a synth has both.
    expect(drawablesIn({ ...patch, layers: [{ ...patch.layers[0], list: [] }] }, [], sounds)).not.toContain(
      'layer.x.osc1Position',
    );
    const grouped: Patch = {
      ...patch,
      groups: [
        {
          ...{
            id: 'g',
            name: 'G',
            mark: markAt(2),
            on: true,
            folded: false,
            choke: 0,
            windows: [],
            receive: patch.layers[0].receive,
            effects: [],
            params: {},
          },
        },
      ],
      layers: patch.layers.map((layer) => ({ ...layer, groupId: 'g' })),
    };
    expect(drawablesIn(grouped, ['group.g'], sounds)).toEqual(
      expect.arrayContaining(['group.g.pan', 'layer.x.cutoff', 'layer.y.cutoff']),
    );
  });

  it('give rigs that can be read again', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e9 }), (seed) => {
        const rolled = roll(roll(patch, everything, seed), everything, seed + 1, 0.4);
        expect(() => readRig({ ...newRig('r', 'R'), patches: [rolled], sounds })).not.toThrow();
        for (const what of everything) {
          const parameter = parseTarget(what)?.parameter;
          const value = restOfTarget(rolled, what);
          if (parameter && value !== undefined) expect(value >= parameter.low && value <= parameter.high).toBe(true);
        }
      }),
      { numRuns: 25 },
    );
  });

  // Arithmetic: forty sounds in each of four places.
  it('tell how many combinations there are', () => {
    const four: Patch = {
      ...newPatch('p', 'P'),
      layers: [1, 2, 3, 4].map((each) => newLayer(`l${each}`, `L${each}`, 'a', markAt(each))),
    };
    const forty = Array.from({ length: 40 }, (_, i) => `s${i}`);
    expect(
      combinationsOf(
        four,
        four.layers.map(({ id }) => `layer.${id}.sound`),
        { amount: 1, sounds: forty },
      ).combinations,
    ).toBe(2_560_000);
    expect(
      combinationsOf(
        setLock(four, 'layer.l1.sound', true),
        four.layers.map(({ id }) => `layer.${id}.sound`),
        { amount: 1, sounds: forty },
      ).combinations,
    ).toBe(64_000);
    expect(combinationsOf(four, ['layer.l1.cutoff', 'layer.l1.filterKind'], { amount: 1 })).toEqual({
      combinations: 12,
      free: 1,
    });
  });
});

describe('the history of draws', () => {
  const first = roll(patch, everything, 11);
  const second = roll(first, everything, 12, 0.5);
  const branch = roll(goTo(second, first.drawn), everything, 13);

  it('goes back to each draw as it was, from anywhere, and to where none was', () => {
    expect(content(goTo(second, first.drawn))).toEqual(content(first));
    expect(content(goTo(branch, second.drawn))).toEqual(content(second));
    expect(content(goTo(goTo(branch, null), branch.drawn))).toEqual(content(branch));
    expect(content(goTo(branch, null))).toEqual(content(patch));
    expect(wayBetween(branch, second.drawn, branch.drawn)).toMatchObject({
      back: [{ id: second.drawn }],
      on: [{ id: branch.drawn }],
    });
  });

  it('leaves what hands have changed since, unless a draw changed it too', () => {
    const edited = { ...second, tempo: 99 };
    expect(goTo(edited, first.drawn).tempo).toBe(99);
  });

  it('finds what lies between two draws', () => {
    const [a, b] = [first.drawn, second.drawn];
    expect(content(between(branch, a, b, 0).patch)).toEqual(content(goTo(branch, a)));
    const half = between(branch, a, b, 0.5).patch;
    const parameter = LAYER_PARAMETERS.cutoff;
    const normal = (each: Patch) => toNormal(parameter, restOfTarget(each, 'layer.x.cutoff')!);
    expect(normal(half)).toBeCloseTo((normal(first) + normal(second)) / 2, 4);
    expect(content(between(branch, a, b, 1).patch)).toEqual(content(second));
  });

  it('stars, names and forgets; what came of what is forgotten still goes all the way back', () => {
    const named = updateDraw(updateDraw(second, first.drawn!, { name: 'the good one', starred: true }), second.drawn!, {
      starred: false,
    });
    expect(named.draws[0]).toMatchObject({ name: 'the good one', starred: true });
    const forgotten = forgetDraw(second, first.drawn!);
    expect(forgotten.draws).toHaveLength(1);
    expect(content(goTo(forgotten, null))).toEqual(content(patch));
    expect(content(goTo(goTo(forgotten, null), second.drawn))).toEqual(content(second));
  });

  it('stands for the draw before when the one that it stands for is forgotten, and still goes all the way back from there', () => {
    const only = { ...patch, draws: [], drawn: null };
    const [one, two] = [['layer.x.cutoff'], ['layer.x.pan']];
    const grown = roll(roll(only, one, 3), two, 4);
    const forgotten = forgetDraw(grown, grown.drawn!);
    expect(forgotten.drawn).toBe(grown.draws[0].id);
    expect(content(forgotten)).toEqual(content(grown));
    const back = goTo(forgotten, null);
    expect(valueOfDrawable(back, one[0])).toBe(valueOfDrawable(only, one[0]));
    expect(valueOfDrawable(back, two[0])).toBe(valueOfDrawable(grown, two[0]));
  });

  it('goes all the way back where a long line lost its beginning', () => {
    let grown: Patch = { ...patch, draws: [], drawn: null };
    grown = roll(grown, ['layer.x.pan'], 1);
    for (let i = 0; i < 305; i++) grown = roll(grown, ['layer.x.cutoff'], i + 2);
    expect(grown.draws).toHaveLength(300);
    const back = goTo(grown, null);
    for (const what of ['layer.x.pan', 'layer.x.cutoff'])
      expect(valueOfDrawable(back, what)).toBe(valueOfDrawable(patch, what));
  });

  it('keeps three hundred, and those that are starred longest', () => {
    let grown = roll(patch, ['layer.x.cutoff'], 1);
    grown = updateDraw(grown, grown.drawn!, { starred: true });
    const star = grown.drawn!;
    for (let i = 0; i < 320; i++) grown = roll(goTo(grown, null), ['layer.x.cutoff'], i + 2);
    expect(grown.draws).toHaveLength(300);
    expect(grown.draws.some(({ id }) => id === star)).toBe(true);
    expect(grown.draws.every(({ from }) => from === null || grown.draws.some(({ id }) => id === from))).toBe(true);
  });

  it('survives the archive’s text', () => {
    const rig = { ...newRig('r', 'R'), patches: [branch], sounds };
    const again = readRig(JSON.parse(JSON.stringify(rig))).patches[0] as Patch;
    expect(content(goTo(again, second.drawn))).toEqual(content(second));
  });
});
