import { newClick, newRig } from '../../core/rig/defaults';
import { addPair, deletePair, renamePair, setClick, withPairs } from '../../core/rig/edits/pairs';
import { addSend, takeConnection } from '../../core/rig/edits/mix';
import { mergePatches } from '../../core/rig/edits/merge';
import { markAt, newLayer, newPatch, newSound } from '../../core/rig/defaults';
import { connectionsOf, nameOfPlace, outputId } from '../../core/rig/mix';
import { faultOf } from '../../core/rig/read';
import type { Rig } from '../../core/rig/schema';
import { Pairs } from './pairs';

const three = ['phones', 'drummer'].reduce(addPair, newRig('r', 'R'));
function begin(channels = 2) {
  const told: unknown[] = [];
  const engine = {
    state: 'running' as const,
    hasPair: (pair: number) => 2 * pair + 1 < channels,
    setOutputs: (...to: unknown[]) => told.push(['outputs', ...to]),
    setClick: (sound: unknown) => told.push(['click', sound]),
  };
  let changes = 0;
  return { pairs: new Pairs(engine as never, () => changes++), told, changes: () => changes };
}

describe('on this machine', () => {
  test('pairs go to channels in their order, or as this machine says by their names', () => {
    const { pairs, told } = begin(8);
    pairs.follow(three, {});
    expect(told).toEqual([
      ['outputs', [0, 1, 2], null],
      ['click', null],
    ]);
    told.length = 0;
    pairs.follow(three, { drummer: 3 });
    expect(told[0]).toEqual(['outputs', [0, 1, 3], null]);
    expect(pairs.missing).toEqual([]);
    // Nothing new says nothing.
    told.length = 0;
    pairs.follow(three, pairs['channels']);
    expect(told).toEqual([]);
  });
  test('what the device has no channels for is told by name', () => {
    const { pairs } = begin(2);
    pairs.follow(three, {});
    expect(pairs.missing).toEqual(['phones', 'drummer']);
  });
  test('the click needs a pair that was chosen; where that has no channels it is lost, and off when the pair goes', () => {
    const { pairs, told } = begin(2);
    pairs.follow(three, {});
    expect(pairs.setClicks(true)).toBe(false);
    expect(pairs.clicks).toBe(false);
    const chosen = setClick(three, { pair: 'drummer', level: -6, subdivision: 2 });
    pairs.follow(chosen, {});
    told.length = 0;
    expect(pairs.setClicks(true)).toBe(true);
    expect(told).toEqual([
      ['outputs', [0, 1, 2], 2],
      ['click', { gain: 10 ** (-6 / 20), beats: 4, subdivision: 2, wood: true }],
    ]);
    expect(pairs.isClickLost).toBe(true);
    expect(pairs.countsInAt).toBe(2);
    pairs.follow(deletePair(chosen, 'drummer'), {});
    expect(pairs.clicks).toBe(false);
    expect(pairs.isClickLost).toBe(false);
  });
});

describe('in the rig', () => {
  const patch = takeConnection(
    addSend(
      addSend({ ...newPatch('p', 'P'), layers: [newLayer('l', 'L', 's', markAt(0))] }, 'main', 'pair.phones'),
      'layer.l',
      'pair.drummer',
    ),
    outputId('layer.l'),
    'pair.phones',
  );
  const rig: Rig = { ...three, sounds: [newSound('s', 'S')], patches: [patch] };
  test('places go to pairs, and it can be written; a pair that is not there is refused', () => {
    expect(faultOf(rig)).toBeUndefined();
    expect(connectionsOf(patch).map(({ from, to }) => `${from} ${to}`)).toEqual([
      'layer.l pair.phones',
      'layer.l pair.drummer',
      'main pair.phones',
    ]);
    expect(faultOf({ ...rig, pairs: [rig.pairs[0]] })?.message).toMatch(/there is no pair\.phones/);
    expect(faultOf(setClick(rig, { pair: 'nobody' }))?.message).toMatch(/click\.pair: no pair has the id "nobody"/);
    // Main goes nowhere but to pairs, and nothing comes from one.
    expect(addSend(patch, 'main', 'layer.l')).toBe(patch);
    expect(addSend(patch, 'pair.phones', 'main')).toBe(patch);
  });
  test('a pair that goes lets what went there go its own way; the first one stays', () => {
    const left = deletePair(setClick(rig, { pair: 'phones' }), 'phones');
    expect(faultOf(left)).toBeUndefined();
    expect(connectionsOf(left.patches[0]).map(({ to }) => to)).toEqual(['main', 'pair.drummer']);
    expect(left.click.pair).toBeNull();
    expect(deletePair(rig, 'hall')).toBe(rig);
  });
  test('names: kept apart, never empty, told where the pairs are known; there are four at the most', () => {
    const four = addPair(addPair(three, 'phones'), 'more');
    expect(four.pairs.map(({ name }) => name)).toEqual(['hall', 'phones', 'drummer', 'phones 2']);
    expect(renamePair(three, 'phones', '  ')).toBe(three);
    const odd = addPair(newRig('r', 'R'), '耳机');
    expect(odd.pairs[1].name).toBe('耳机');
    expect(faultOf(odd)).toBeUndefined();
    expect(nameOfPlace(patch, 'pair.phones', renamePair(three, 'phones', 'ear').pairs)).toBe('ear (outputs)');
    expect(nameOfPlace(patch, 'pair.phones')).toBe('phones (outputs)');
  });
  test('a patch from another rig finds the pairs of the same name; what is not here goes its own way', () => {
    const here: Rig = {
      ...newRig('h', 'H'),
      pairs: [
        { id: 'x', name: 'hall' },
        { id: 'y', name: 'drummer' },
      ],
    };
    const merged = mergePatches(here, rig, ['p'], () => 'new').rig;
    expect(faultOf(merged)).toBeUndefined();
    expect(connectionsOf(merged.patches[0]).map(({ to }) => to)).toEqual(['main', 'pair.y']);
    expect(withPairs(patch, three.pairs, three.pairs).connections).toEqual(patch.connections);
  });
  test('a new click goes nowhere', () => expect(newClick().pair).toBeNull());
});
