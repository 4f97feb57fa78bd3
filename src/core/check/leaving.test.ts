import { fullWindow, markAt, newLayer, newMessage, newPatch, newRig, newSound, newZone } from '../rig/defaults';
import { addInstrument, setInstrument, setTold, updateInstrument } from '../rig/edits/outside';
import { addPair, setClick } from '../rig/edits/pairs';
import { updatePatch } from '../rig/edits/layers';
import { faultOf } from '../rig/read';
import type { Message, Rig } from '../rig/schema';
import { checkPatch } from './index';

/** What leaves the rig: instruments outside, the click. */
const layer = { ...newLayer('l', 'L', 's', markAt(0)), windows: [fullWindow('key'), fullWindow('velocity')] };
const plain: Rig = {
  ...newRig('r', 'R'),
  samples: [{ id: 'w', name: 'w.wav', rate: 48000, channels: 1, frames: 1000 }],
  sounds: [newSound('s', 'S', [newZone('w', 60)])],
  patches: [{ ...newPatch('p', 'P'), layers: [layer] }, newPatch('q', 'Q')],
  setlists: [],
  setlist: null,
};
const made = addInstrument(plain, 'Loft', 'Loft out')!;
const played = updatePatch(made.rig, 'p', (patch) => setInstrument(patch, 'l', made.id));
const telling = (...enter: Message[]): Rig =>
  updatePatch(played, 'p', (patch) => setTold(patch, made.id, 'enter', enter));
const found = (rig: Rig, rule: string, outputs?: readonly string[], at = 0) =>
  checkPatch(rig, rig.patches[at], { outputs: outputs && new Set(outputs) }).filter((finding) => finding.rule === rule);
const mended = (rig: Rig, rule: string, fix = 0) => {
  const next = found(rig, rule)[0].fixes[fix].edit(rig);
  expect(faultOf(next)).toBeUndefined();
  return found(next, rule);
};

test('an instrument that is played and not told its program is sure, and told one by the fix', () => {
  expect(found(played, 'untold-program')).toMatchObject([
    { grade: 'sure', message: '“Loft” is played, and is not told its program when “P” is entered.' },
  ]);
  expect(mended(played, 'untold-program')).toEqual([]);
  expect(found(telling(newMessage('notesOff')), 'untold-program')).toHaveLength(1);
  expect(found(telling(newMessage('program')), 'untold-program')).toEqual([]);
  // Who knows its bytes knows what it needs; one that wants none, or that nobody plays, is left alone.
  expect(found(telling({ ...newMessage('bytes'), bytes: 'C0 05' }), 'untold-program')).toEqual([]);
  expect(found(updateInstrument(played, made.id, { asks: false }), 'untold-program')).toEqual([]);
  expect(found(made.rig, 'untold-program')).toEqual([]);
  expect(found(played, 'untold-program', undefined, 1)).toEqual([]);
});

test('an output that nobody chose, or that is not on this machine, is sure; without a machine nobody knows', () => {
  expect(found(played, 'output-away')).toEqual([]);
  expect(found(played, 'output-away', ['Loft out'])).toEqual([]);
  expect(found(played, 'output-away', ['other'])).toMatchObject([
    { grade: 'sure', message: '“Loft” is played, and its output “Loft out” is not there.' },
  ]);
  const nowhere = updateInstrument(played, made.id, { output: '' });
  expect(found(nowhere, 'output-away')[0].message).toBe('“Loft” is played, and no output is chosen for it.');
  expect(mended(nowhere, 'output-away')).toEqual([]);
});

test('a click where main goes is told once, surer where Stage may hear it, and sent elsewhere', () => {
  const rig = addPair(plain, 'phones');
  expect(found(rig, 'click-in-hall')).toEqual([]);
  const clicking = setClick(rig, { pair: 'hall' });
  expect(found(clicking, 'click-in-hall')).toMatchObject([{ grade: 'taste' }]);
  expect(found(clicking, 'click-in-hall', undefined, 1)).toEqual([]);
  const loud = setClick(clicking, { stage: true });
  expect(found(loud, 'click-in-hall')).toMatchObject([
    { grade: 'sure', message: 'The click goes to “hall”, where main goes, and may be heard on Stage.' },
  ]);
  expect(mended(loud, 'click-in-hall', 0)).toEqual([]);
  expect(mended(loud, 'click-in-hall', 1)).toEqual([]);
  expect(found(setClick(rig, { pair: 'phones', stage: true }), 'click-in-hall')).toEqual([]);
});

test('an input that is lifted without a gate may feed back, one that did is told with its frequency', () => {
  const voice = { ...newLayer('v', 'Voice', 'mic', markAt(0)), params: { inputGain: 9 } };
  const rig: Rig = {
    ...plain,
    sounds: [...plain.sounds, { ...newSound('mic', 'Mic'), kind: 'input' }],
    patches: [{ ...newPatch('p', 'P'), layers: [voice] }],
  };
  expect(found(rig, 'feeds-back')).toMatchObject([
    { grade: 'taste', message: '“Voice” lifts its input by 9 dB, without a gate.' },
  ]);
  expect(mended(rig, 'feeds-back', 0)).toEqual([]);
  expect(mended(rig, 'feeds-back', 1)).toEqual([]);
  const calm = updatePatch(rig, 'p', (patch) => ({ ...patch, layers: [{ ...voice, params: {} }] }));
  expect(found(calm, 'feeds-back')).toEqual([]);
  const heard = checkPatch(calm, calm.patches[0], { fedBackAt: 1203 }).filter(({ rule }) => rule === 'feeds-back');
  expect(heard).toMatchObject([
    { grade: 'measured', message: 'The input fed back at 1203 Hz while “Voice” heard it.' },
  ]);
  expect(found(plain, 'feeds-back')).toEqual([]);
});
