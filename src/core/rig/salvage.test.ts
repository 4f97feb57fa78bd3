import fc from 'fast-check';
import { fullWindow, markAt, newEntry, newLayer, newPatch, newRig, newSetlist, newSound, newZone } from './defaults';
import { EQUAL } from '../music/tunings';
import { differenceOf } from './difference';
import { setConcertPitch, setTuning } from './edits/tuning';
import { duplicateLayer, setParam, updatePatch } from './edits/layers';
import { addPatch, deletePatch } from './edits/patches';
import { setWindow } from './edits/windows';
import { deleteZones, moveZones, updateSound } from './edits/zones';
import { readRig } from './read';
import { salvageRig } from './salvage';
import type { Rig } from './schema';

const rig = (): Rig => ({
  ...newRig('r', 'R'),
  samples: [{ id: 'w', name: 'w.wav', rate: 44100, channels: 1, frames: 1000 }],
  sounds: [newSound('s', 'S', [newZone('w', 60), newZone('w', 62)])],
  patches: [
    { ...newPatch('p', 'P'), layers: [newLayer('a', 'A', 's', markAt(0)), newLayer('b', 'B', 's', markAt(1))] },
    newPatch('q', 'Q'),
  ],
});
/** The rig as plain data with something put elsewhere. */
const damaged = (
  change: (
    json: { patches: Record<string, unknown>[]; sounds: Record<string, unknown>[]; name: unknown } & Record<
      string,
      unknown
    >,
  ) => void,
): unknown => {
  const json = JSON.parse(JSON.stringify(rig())) as Parameters<typeof change>[0];
  change(json);
  return json;
};
const layersOf = (json: { patches: Record<string, unknown>[] }) => json.patches[0].layers as Record<string, unknown>[];

describe('salvage', () => {
  test('what is too long is cut, what is too large held, the rest stays', () => {
    const found = salvageRig(
      damaged((json) => {
        json.patches[0].name = 'x'.repeat(300);
        json.patches[0].tempo = 9000;
        layersOf(json)[0].transpose = 1.5;
      }),
    )!;
    expect(found.rig.patches[0].name).toHaveLength(200);
    expect(found.rig.patches[0].tempo).toBe(400);
    expect(found.rig.patches[0].layers[0].transpose).toBe(2);
    expect(found.mended).toEqual(
      expect.arrayContaining([expect.stringContaining('patches[0].tempo: 9000 became 400')]),
    );
    expect(found.rig.patches[0].layers).toHaveLength(2);
  });
  test('what cannot be mended goes with the smallest thing it stands in', () => {
    const found = salvageRig(
      damaged((json) => {
        layersOf(json)[1].soundId = 'gone';
        (json.sounds[0].zones as Record<string, unknown>[])[0].sampleId = 'lost';
        json.setlists = [newSetlist('s', 'S', [newEntry('e', 'patch', ['p']), newEntry('f', 'patch', ['nowhere'])])];
        json.setlist = 's';
      }),
    )!;
    expect(found.rig.patches[0].layers.map((layer) => layer.id)).toEqual(['a']);
    expect(found.rig.sounds[0].zones.map((zone) => zone.root)).toEqual([62]);
    expect(found.rig.setlists[0].entries.map(({ id }) => id)).toEqual(['e']);
    expect(found.mended).toHaveLength(4);
  });
  test('a sound rig stays as it is, what is no rig gives nothing', () => {
    expect(salvageRig(JSON.parse(JSON.stringify(rig())))).toEqual({ rig: rig(), mended: [] });
    for (const other of [null, 5, 'text', [], {}, { format: 'other' }]) expect(salvageRig(other)).toBeUndefined();
  });
  test('whatever was damaged, what comes back can be read', () => {
    const paths = fc.constantFrom(
      'name',
      'id',
      'patches',
      'sounds',
      'samples',
      'setlist',
      'setlists',
      'controllers',
      'version',
    );
    const values = fc.constantFrom<unknown>(
      null,
      undefined,
      5,
      -1,
      'x',
      'x'.repeat(999),
      [],
      {},
      [null],
      [{}],
      NaN,
      true,
    );
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.oneof(
              paths,
              fc.constantFrom(
                'layer.name',
                'layer.windows',
                'layer.params',
                'zone.root',
                'zone.loop',
                'zone.key',
                'sample.rate',
              ),
            ),
            values,
          ),
          { minLength: 1, maxLength: 4 },
        ),
        (damage) => {
          const json = damaged((copy) => {
            for (const [path, value] of damage) {
              const [what, field] = path.split('.');
              const [layer] = Array.isArray(copy.patches)
                ? ((copy.patches[0]?.layers as Record<string, unknown>[]) ?? [])
                : [];
              const [zone] = Array.isArray(copy.sounds)
                ? ((copy.sounds[0]?.zones as Record<string, unknown>[]) ?? [])
                : [];
              const [sample] = Array.isArray(copy.samples) ? (copy.samples as Record<string, unknown>[]) : [];
              if (!field) copy[what] = value as never;
              else {
                const owner = { layer, zone, sample }[what];
                if (owner && typeof owner === 'object') owner[field] = value;
              }
            }
          });
          const found = salvageRig(json);
          if (found) expect(readRig(JSON.parse(JSON.stringify(found.rig)))).toBeTruthy();
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('what is different', () => {
  const said = (change: (before: Rig) => Rig) => differenceOf(rig(), change(rig()));
  // States share what did not change, as edits leave them.
  const told = (change: (before: Rig) => Rig) => {
    const before = rig();
    return differenceOf(before, change(before));
  };
  test('is said as a person would', () => {
    expect(told((before) => updatePatch(before, 'p', (patch) => setParam(patch, 'a', 'level', -6)))).toEqual({
      what: 'the level of “A”',
      place: { view: 'layers', patchId: 'p', layerIds: ['a'] },
    });
    expect(
      told((before) => updatePatch(before, 'p', (patch) => setWindow(patch, 'b', { ...fullWindow('cc.1'), low: 9 })))
        ?.what,
    ).toBe('the window on wheel (CC 1) of “B”');
    expect(told((before) => updatePatch(before, 'p', (patch) => duplicateLayer(patch, 'a', 'c')))).toMatchObject({
      what: 'the new layer “A copy”',
      place: { layerIds: ['c'] },
    });
    expect(told((before) => addPatch(before, 'n', 'N'))).toMatchObject({
      what: 'the new patch “N”',
      place: { patchId: 'n' },
    });
    expect(told((before) => deletePatch(before, 'q'))?.what).toBe('the end of the patch “Q”');
    expect(told((before) => updateSound(before, 's', (sound) => moveZones(sound, new Set([1]), 2, 0, true)))).toEqual({
      what: 'a change of 1 zone of “S”',
      place: { view: 'sounds', soundId: 's', zones: [1] },
    });
    expect(told((before) => updateSound(before, 's', (sound) => deleteZones(sound, new Set([0, 1]))))?.what).toBe(
      'the end of 2 zones of “S”',
    );
  });
  test('in concert pitch and tunings as well', () => {
    const just = { ...EQUAL, scale: 'just' };
    expect(told((before) => setConcertPitch(before, 442))?.what).toBe('concert pitch');
    expect(told((before) => setTuning(before, { of: 'rig' }, just))?.what).toBe('the tuning of the rig');
    expect(told((before) => setTuning(before, { of: 'patch', patchId: 'p' }, just))?.what).toBe(
      'the tuning of the patch',
    );
  });
  test('and nothing is nothing', () => {
    const same = rig();
    expect(differenceOf(same, same)).toBeUndefined();
    expect(said((before) => ({ ...before, name: 'Other' }))).toBeDefined();
  });
});
