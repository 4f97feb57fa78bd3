import { blendLayers, spreadOverPad } from '../rig/edits/pads';
import { fullWindow, newRoute, newSetlist, newEntry, newSound } from '../rig/defaults';
import type { LayerWindow, Rig } from '../rig/schema';
import {
  RATE,
  audios,
  record,
  tone,
  hzOf,
  over,
  velocities,
  layerOf,
  rigOf,
  simple,
  TAKE,
  hear,
  found,
  mended,
  even,
  plain,
} from '../../../tests/kit/heard';

function recordStereo(id: string, left: (t: number) => number, right: (t: number) => number): string {
  const frames = Math.round(0.8 * RATE);
  const data = new Float32Array(2 * frames);
  for (let n = 0; n < frames; n++) {
    data[2 * n] = left(n / RATE);
    data[2 * n + 1] = right(n / RATE);
  }
  audios.set(id, { rate: RATE, channels: 2, data });
  return id;
}

describe('layers together', () => {
  const opposite = record('opposite', (t) => -tone(hzOf(60))(t));
  const other = record('other', tone(hzOf(60, 700)));
  const two = (second: string) =>
    rigOf({ layers: [layerOf('a', 's'), layerOf('b', 't')] }, [
      newSound('s', 'S', [over(even, 60, 48, 72)]),
      newSound('t', 'T', [over(second, 60, 48, 72)]),
    ]);
  test('opposites cancel, and are told apart by a detune; strangers do not', () => {
    expect(found(two(opposite), 'cancelling')).toMatchObject([{ grade: 'measured', where: { layerIds: ['a', 'b'] } }]);
    expect(mended(two(opposite), 'cancelling')).toEqual([]);
    expect(found(two(other), 'cancelling')).toEqual([]);
  });
  test('the same wave in two layers is said, with what it costs; strangers and opposites are not', () => {
    const [same] = found(two(even), 'same-wave');
    expect(same).toMatchObject({
      grade: 'measured',
      where: { layerIds: ['a', 'b'] },
      message: expect.stringContaining('6 dB louder') as string,
    });
    expect(mended(two(even), 'same-wave')).toEqual([]);
    expect(found(two(other), 'same-wave')).toEqual([]);
    expect(found(two(opposite), 'same-wave')).toEqual([]);
  });
  test('what is only the difference of both sides is gone in mono', () => {
    const sides = recordStereo('sides', tone(hzOf(60)), (t) => -0.9 * tone(hzOf(60))(t));
    const rig = simple([over(sides, 60, 48, 72)]);
    expect(found(rig, 'vanishes-in-mono')[0]).toMatchObject({ grade: 'measured', where: { layerIds: ['a'] } });
    expect(found(plain, 'vanishes-in-mono')).toEqual([]);
  });
  test('a straight crossfade of strangers dips by 3 dB in its middle, one of constant power does not; of the same sound it is the other way round', () => {
    const fading = (second: string, shape: 'linear' | 'sine') => {
      const window = (more: Partial<LayerWindow>): LayerWindow => ({ ...fullWindow('cc.1'), shape, ...more });
      const layer = (id: string, soundId: string, more: Partial<LayerWindow>) =>
        layerOf(id, soundId, { windows: [fullWindow('key'), fullWindow('velocity'), window(more)] });
      return rigOf({ layers: [layer('a', 's', { high: 127, fadeOut: 127 }), layer('b', 't', { fadeIn: 127 })] }, [
        newSound('s', 'S', [over(even, 60, 48, 72)]),
        newSound('t', 'T', [over(second, 60, 48, 72)]),
      ]);
    };
    const [dip] = found(fading(other, 'linear'), 'uneven-fade');
    // Two equal powers, each at half its amplitude: 10 log(2 · 0.25) = −3.01 dB (arithmetic).
    expect(dip.message).toMatch(/dips by (2\.[89]|3(\.[0-2])?) dB/);
    expect(mended(fading(other, 'linear'), 'uneven-fade')).toEqual([]);
    expect(found(fading(other, 'sine'), 'uneven-fade')).toEqual([]);
    const same = record('even-again', tone(hzOf(60)));
    expect(found(fading(same, 'sine'), 'uneven-fade')[0].message).toMatch(/swells by (2\.[89]|3(\.[0-2])?) dB/);
    expect(found(fading(same, 'linear'), 'uneven-fade')).toEqual([]);
  });
  test('so does a morph over an XY pad or a blend, between each of its neighbours', () => {
    const again = record('even-once-more', tone(hzOf(60)));
    const sounds = (second: string) => [
      newSound('s', 'S', [over(even, 60, 48, 72)]),
      newSound('t', 'T', [over(second, 60, 48, 72)]),
    ];
    for (const make of [spreadOverPad, blendLayers]) {
      const morphing = (second: string, shape: 'linear' | 'root'): Rig => {
        const plainLayers = rigOf({ layers: [layerOf('a', 's', {}), layerOf('b', 't', {})] }, sounds(second));
        const { patch } = make(plainLayers.patches[0], ['a', 'b'], 'Two Waters')!;
        const shaped = patch.layers.map((layer) => ({
          ...layer,
          windows: layer.windows.map((window) => (/^(xy|blend)/.test(window.source) ? { ...window, shape } : window)),
        }));
        return { ...plainLayers, patches: [{ ...patch, layers: shaped }] };
      };
      const [dip] = found(morphing(other, 'linear'), 'uneven-fade');
      expect(dip).toMatchObject({
        grade: 'measured',
        where: { layerIds: ['a', 'b'] },
        message: expect.stringMatching(/over “Two Waters” dips by (2\.[89]|3(\.[0-2])?) dB/) as unknown,
      });
      expect(mended(morphing(other, 'linear'), 'uneven-fade')).toEqual([]);
      expect(found(morphing(other, 'root'), 'uneven-fade')).toEqual([]);
      expect(found(morphing(again, 'root'), 'uneven-fade')[0].message).toMatch(/swells by (2\.[89]|3(\.[0-2])?) dB/);
      expect(mended(morphing(again, 'root'), 'uneven-fade')).toEqual([]);
    }
  });
  test('so does one between two dynamics of a sound', () => {
    const dynamics = (shape: 'linear' | 'sine') =>
      simple([
        over(even, 60, 48, 72, { velocity: { low: 1, high: 100, fadeIn: 0, fadeOut: 60, shape } }),
        over(other, 60, 48, 72, { velocity: { low: 40, high: 127, fadeIn: 60, fadeOut: 0, shape } }),
      ]);
    const [dip] = found(dynamics('linear'), 'uneven-fade');
    expect(dip).toMatchObject({
      grade: 'measured',
      where: { soundId: 's', zones: [0, 1] },
      message: expect.stringMatching(
        /^Between dynamics of “S” the crossfade over velocity dips by (2\.[89]|3(\.[0-2])?) dB/,
      ) as unknown,
    });
    expect(mended(dynamics('linear'), 'uneven-fade')).toEqual([]);
    expect(found(dynamics('sine'), 'uneven-fade')).toEqual([]);
  });
  test('ten fingers, and a take, that the limiter has to hold', () => {
    const loud = record('loud', tone(hzOf(60), 0.9));
    const rig = simple([over(loud, 60, 48, 72)]);
    expect(found(rig, 'ten-fingers')).toMatchObject([{ grade: 'measured', hear: { together: true } }]);
    expect(mended(rig, 'ten-fingers')).toEqual([]);
    expect(found(plain, 'ten-fingers')).toEqual([]);
    const hot = { ...rig, patches: [{ ...rig.patches[0], main: { ...rig.patches[0].main, level: 6 } }] };
    const [limited] = found(hot, 'limited-take', hear(hot, TAKE));
    expect(limited).toMatchObject({ grade: 'measured' });
    const lowered = limited.fixes[0].edit(hot);
    expect(found(lowered, 'limited-take', hear(lowered, TAKE))).toEqual([]);
    expect(found(plain, 'limited-take', hear(plain, TAKE))).toEqual([]);
  });
});

describe('keys', () => {
  test('an overlap of some keys at a split, with hard borders, is a matter of taste; a stack and a fade are none', () => {
    const split = (low: number, high: number, fade = 0) =>
      rigOf(
        {
          layers: [
            layerOf('a', 's', { windows: [{ ...fullWindow('key'), high, fadeOut: fade }, fullWindow('velocity')] }),
            layerOf('b', 's', { windows: [{ ...fullWindow('key'), low, fadeIn: fade }, fullWindow('velocity')] }),
          ],
        },
        [newSound('s', 'S', [over(even, 60, 0, 127)])],
      );
    expect(found(split(58, 60), 'overlap')).toMatchObject([{ grade: 'taste', where: { keys: [58, 60] } }]);
    expect(mended(split(58, 60), 'overlap', 0)).toEqual([]);
    expect(mended(split(58, 60), 'overlap', 1)).toEqual([]);
    expect(found(split(61, 60), 'overlap')).toEqual([]);
    expect(found(split(58, 62, 4), 'overlap')).toEqual([]);
    expect(found(split(10, 120), 'overlap')).toEqual([]);
  });
  test('keys that two ranges share by mistake, and velocities that none has', () => {
    const rows = (second: number) => simple([over(even, 60, 48, 60), over(even, 61, second, 72)]);
    expect(found(rows(59), 'doubled-keys')).toMatchObject([{ grade: 'sure', where: { keys: [59, 60] } }]);
    expect(mended(rows(59), 'doubled-keys')).toEqual([]);
    expect(found(rows(61), 'doubled-keys')).toEqual([]);
    const dynamics = (low: number) =>
      simple([
        over(even, 60, 48, 72, { velocity: velocities(1, 60) }),
        over(even, 60, 48, 72, { velocity: velocities(low, 127) }),
      ]);
    expect(found(dynamics(70), 'velocity-gap')).toMatchObject([{ grade: 'sure', where: { velocities: [61, 69] } }]);
    expect(mended(dynamics(70), 'velocity-gap')).toEqual([]);
    expect(found(dynamics(61), 'velocity-gap')).toEqual([]);
  });
  test('a transposition that loses keys, and zones that no window reaches', () => {
    const moved = (transpose: number) =>
      rigOf({ layers: [layerOf('a', 's', { transpose })] }, [newSound('s', 'S', [over(even, 60, 48, 72)])]);
    expect(found(moved(12), 'out-of-reach')).toMatchObject([{ grade: 'sure', where: { keys: [61, 72] } }]);
    expect(mended(moved(12), 'out-of-reach')).toEqual([]);
    expect(found(moved(0), 'out-of-reach')).toEqual([]);
    const behind = rigOf(
      { layers: [layerOf('a', 's', { windows: [{ ...fullWindow('key'), high: 60 }, fullWindow('velocity')] })] },
      [newSound('s', 'S', [over(even, 60, 48, 60), over(even, 61, 61, 72)])],
    );
    expect(found(behind, 'silent-zones')).toMatchObject([{ grade: 'taste', where: { zones: [1] } }]);
    expect(mended(behind, 'silent-zones')).toEqual([]);
    expect(found(plain, 'silent-zones')).toEqual([]);
  });
});

describe('hands', () => {
  const sound = newSound('s', 'S', [over(even, 60, 0, 127)]);
  const bind = (control: string, target: string, channel = 0) => ({
    control,
    channel,
    port: 'any',
    coding: 'absolute' as const,
    target,
  });
  const withControllers = (rig: Rig, more: Partial<Rig['controllers']>): Rig => ({
    ...rig,
    controllers: { ...rig.controllers, ...more },
  });
  test('the bend of a lead on the chords of the other hand', () => {
    const split = (bend: boolean) => {
      const low = layerOf('low', 's', { windows: [{ ...fullWindow('key'), high: 60 }, fullWindow('velocity')] });
      return rigOf(
        {
          layers: [
            { ...low, receive: { ...low.receive, bend } },
            layerOf('lead', 's', {
              windows: [{ ...fullWindow('key'), low: 61 }, fullWindow('velocity')],
              path: { ...low.path, playing: 'mono' },
            }),
          ],
        },
        [sound],
      );
    };
    expect(found(split(true), 'bend-on-keys')).toMatchObject([
      { grade: 'taste', where: { layerIds: ['low', 'lead'] } },
    ]);
    expect(mended(split(true), 'bend-on-keys')).toEqual([]);
    expect(found(split(false), 'bend-on-keys')).toEqual([]);
  });
  test('a take that leaves expression at nothing', () => {
    const take = (value: number) =>
      rigOf(
        {
          layers: [layerOf('a', 's')],
          takes: [
            {
              id: 't',
              name: 'T',
              quarters: 4,
              tempo: 120,
              parts: [
                { id: 'q', name: 'hands', plays: 'patch', on: true, level: 0, notes: [], moves: [[1, 'cc.11', value]] },
              ],
            },
          ],
        },
        [sound],
      );
    expect(found(take(0), 'left-at-zero')).toMatchObject([{ grade: 'sure' }]);
    expect(mended(take(0), 'left-at-zero')).toEqual([]);
    expect(found(take(90), 'left-at-zero')).toEqual([]);
    expect(
      found(
        withControllers(take(0), { pedals: [{ controller: 11, inverted: false, kind: 'continuous' }] }),
        'left-at-zero',
      ),
    ).toEqual([]);
  });
  test('a controller that was not learned, and a channel that nothing sends', () => {
    const routed = withControllers(
      rigOf({ layers: [layerOf('a', 's')], routes: [newRoute('x', 'cc.30', 'layer.a.cutoff', 0.2)] }, [sound]),
      { bindings: [bind('cc.20', 'macro.1')] },
    );
    expect(found(routed, 'no-such-control')).toMatchObject([{ grade: 'taste', where: { layerIds: ['a'] } }]);
    expect(found(withControllers(routed, { bindings: [bind('cc.30', 'macro.1')] }), 'no-such-control')).toEqual([]);
    const layer = layerOf('a', 's');
    const far = withControllers(
      rigOf({ layers: [{ ...layer, receive: { ...layer.receive, channel: '5' as never } }] }, [sound]),
      { bindings: [bind('cc.20', 'macro.1', 1)] },
    );
    const numbered = {
      ...far,
      patches: [{ ...far.patches[0], layers: [{ ...layer, receive: { ...layer.receive, channel: 5 as never } }] }],
    };
    expect(found(numbered, 'strange-channel')).toMatchObject([{ grade: 'taste' }]);
    expect(mended(numbered, 'strange-channel')).toEqual([]);
    expect(
      found(
        withControllers(rigOf({ layers: [layer] }, [sound]), { bindings: [bind('cc.20', 'macro.1', 1)] }),
        'strange-channel',
      ),
    ).toEqual([]);
  });
  test('a knob that jumps after a change of patch', () => {
    const macro = (value: number) => [{ number: 1, name: 'Swell', value, style: 'strip' as const }];
    const show = (value: number, takeover: Rig['controllers']['takeover']): Rig => {
      const rig = rigOf(
        {
          layers: [layerOf('a', 's')],
          macros: macro(value),
          routes: [newRoute('x', 'macro.1', 'layer.a.cutoff', 0.2)],
        },
        [sound],
      );
      return withControllers(
        {
          ...rig,
          patches: [rig.patches[0], { ...rig.patches[0], id: 'q', name: 'Q', macros: macro(0.9) }],
          setlists: [newSetlist('show', 'Show', [newEntry('e', 'patch', ['q']), newEntry('f', 'patch', ['p'])])],
          setlist: 'show',
        },
        { takeover, bindings: [bind('cc.20', 'macro.1')] },
      );
    };
    expect(found(show(0.1, 'jump'), 'takeover-jump')).toMatchObject([{ grade: 'taste', where: { macro: 1 } }]);
    expect(mended(show(0.1, 'jump'), 'takeover-jump')).toEqual([]);
    expect(found(show(0.8, 'jump'), 'takeover-jump')).toEqual([]);
    expect(found(show(0.1, 'pick-up'), 'takeover-jump')).toEqual([]);
  });
});
