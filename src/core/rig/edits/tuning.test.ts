import { EQUAL, type Tuning } from '../../music/tunings';
import { markAt, newLayer, newPatch, newRig, newSound } from '../defaults';
import { readRig } from '../read';
import { ownScale, setConcertPitch, setStays, setTuning, tuningOf, withMapping } from './tuning';

const rig = {
  ...newRig('r', 'R'),
  sounds: [newSound('s', 'S')],
  patches: [{ ...newPatch('p', 'P'), layers: [newLayer('l', 'L', 's', markAt(0))] }],
};
const just: Tuning = { ...EQUAL, scale: 'just' };

test('concert pitch is held between 415 and 466 Hz, to a tenth', () => {
  expect([300, 415.04, 441.96, 900].map((hz) => setConcertPitch(rig, hz).pitch.a4)).toEqual([415, 415, 442, 466]);
});

test('what is said of a layer goes before its patch, and that before the rig', () => {
  const ofRig = setTuning(rig, { of: 'rig' }, just);
  expect(tuningOf(ofRig, ofRig.patches[0], ofRig.patches[0].layers[0])!.scale).toBe('just');
  const ofPatch = setTuning(ofRig, { of: 'patch', patchId: 'p' }, { ...EQUAL, scale: 'young' });
  expect(tuningOf(ofPatch, ofPatch.patches[0], ofPatch.patches[0].layers[0])!.scale).toBe('young');
  const ofLayer = setTuning(ofPatch, { of: 'layer', patchId: 'p', layerId: 'l' }, { ...EQUAL, scale: 'meantone' });
  const [patch] = ofLayer.patches;
  expect(tuningOf(ofLayer, patch, patch.layers[0])!.scale).toBe('meantone');
  expect(tuningOf(ofLayer, patch)!.scale).toBe('young');
  const stays = setStays(ofLayer, 'p', 'l', true);
  expect(tuningOf(stays, stays.patches[0], stays.patches[0].layers[0])).toBeNull();
  expect(setTuning(ofRig, { of: 'rig' }, null).pitch.tuning).toBe(EQUAL);
});

test('a scale of a file, with a mapping, can be written and read', () => {
  const mapping = { size: 1, first: 0, last: 127, middle: 60, reference: 69, referenceHz: 440, octave: 1, keys: [0] };
  const own = withMapping(ownScale({ description: 'x'.repeat(400), degrees: [600, 1200] }, just), mapping);
  const tuned = setTuning(rig, { of: 'patch', patchId: 'p' }, own);
  expect(readRig(JSON.parse(JSON.stringify(tuned)))).toEqual(tuned);
});
