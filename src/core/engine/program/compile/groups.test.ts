import { cc, levelAfter, on, RATE, render, start, STEADY, TONE } from '../../../../../tests/kit/engine';
import { db, pitches, route } from '../../../../../tests/kit/moves';
import { fullWindow, newGroup, newPatch, newLayer, markAt } from '../../../rig/defaults';
import { duplicateGroup, groupLayers, moveGroup, moveToGroup, setGroupParam, ungroup } from '../../../rig/edits/groups';
import { deletePad } from '../../../rig/edits/moves';
import { deleteAnchor, spreadOverPad } from '../../../rig/edits/pads';
import { deleteLayer, moveLayer } from '../../../rig/edits/layers';
import { readRig, faultOf } from '../../../rig/read';
import { newRig, newSound } from '../../../rig/defaults';
import type { Group, Patch } from '../../../rig/schema';

const group = (more: Partial<Group> = {}): Group => ({ ...newGroup('g', 'Choir', markAt(0)), ...more });
const member = (params: Record<string, number> = {}) => ({ groupId: 'g', params });
const receive = newGroup('', '', markAt(0)).receive;

describe('a group acts on its members', () => {
  test('its level is added in dB, and moved by routes; at its lowest all are silent; muted, too', () => {
    const level = (params: Group['params'], wheel = 0, routes: Patch['routes'] = []) => {
      const engine = start({
        audio: STEADY,
        layers: [member({ level: -10 })],
        patch: { groups: [group({ params })], routes },
      });
      engine.handle(cc(1, wheel));
      engine.handle(on());
      return db(levelAfter(engine, 0.4));
    };
    expect(level({})).toBeCloseTo(-10, 2);
    expect(level({ level: -6 })).toBeCloseTo(-16, 2);
    expect(level({ level: -66 })).toBe(-Infinity);
    // The whole range of the group's level is 72 dB, of which the wheel takes a quarter off.
    expect(level({}, 127, [route('cc.1', 'group.g.level', -0.25)])).toBeCloseTo(-28, 1);
    const muted = start({ layers: [member()], patch: { groups: [group({ on: false })] } });
    muted.handle(on());
    expect(levelAfter(muted, 0.2)).toBe(0);
  });
  test('tuning, filters and times are added in proportion', () => {
    const engine = start({
      audio: TONE,
      layers: [member({ tune: 30 })],
      patch: { groups: [group({ params: { tune: 170, transpose: 12 } })] },
    });
    engine.handle(on());
    const heard = pitches(Float64Array.from(render(engine, RATE / 2).left.subarray(4000)), 30)[0];
    expect(1200 * Math.log2(heard / 480)).toBeCloseTo(1400, 0);
    const loud = (params: Record<string, number>, groupParams: Group['params']) => {
      const each = start({
        audio: TONE,
        layers: [member(params)],
        patch: { groups: [group({ params: groupParams })] },
      });
      each.handle(on());
      return render(each, RATE / 2)
        .left.subarray(RATE / 4)
        .reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    };
    expect(loud({ cutoff: 480 }, { filters: -24 })).toBeCloseTo(loud({ cutoff: 120 }, {}), 3);
    const rise = (attack: number, factor: number) => {
      const each = start({
        audio: STEADY,
        layers: [member({ attack })],
        patch: { groups: [group({ params: { attack: factor } })] },
      });
      each.handle(on());
      return levelAfter(each, 0.2);
    };
    expect(rise(0.2, 2)).toBeCloseTo(rise(0.4, 1), 2);
  });
  test('its windows are on top of the members’, what it does not hear they do not', () => {
    const windows = [{ ...fullWindow('key'), low: 60, high: 127 }];
    const engine = start({
      layers: [{ ...member(), windows: [{ ...fullWindow('key'), high: 72 }, fullWindow('velocity')] }],
      patch: { groups: [group({ windows, receive: { ...receive, channel: 3 } })] },
    });
    for (const [key, channel, voices] of [
      [50, 3, 0],
      [65, 1, 0],
      [65, 3, 1],
      [80, 3, 1],
    ] as const) {
      engine.handle({ type: 'noteOn', channel, key, velocity: 100 });
      render(engine, 100);
      expect(engine.voiceCount).toBe(voices);
    }
  });
  test('an edit of the group is followed by held notes', () => {
    const setup = (params: Group['params']) => ({
      audio: STEADY,
      layers: [member()],
      patch: { groups: [group({ params })] },
    });
    const engine = start(setup({}));
    engine.handle(on());
    expect(levelAfter(engine, 0.2)).toBeCloseTo(1, 3);
    engine.setProgram(start(setup({ level: -20 })).sounding!.program);
    expect(db(levelAfter(engine, 0.2))).toBeCloseTo(-20, 1);
  });
});

describe('edits of groups', () => {
  const patch: Patch = {
    ...newPatch('p', 'P'),
    layers: ['a', 'b', 'c', 'd'].map((id, i) => newLayer(id, id, 's', markAt(i))),
    routes: [route('cc.1', 'layer.c.pan', 0.1)],
  };
  const order = ({ layers }: Patch) => layers.map(({ id, groupId }) => (groupId ? `${id}:${groupId}` : id)).join(' ');
  const sound = (made: Patch) =>
    expect(faultOf({ ...newRig('r', 'R'), patches: [made], sounds: [newSound('s', 'S')] })).toBeUndefined();
  const made = groupLayers(patch, ['a', 'c'], 'g', 'Choir');
  test('members come together; joining, leaving, moving, dissolving', () => {
    expect(order(made)).toBe('a:g c:g b d');
    expect(order(moveToGroup(made, 'd', 'g'))).toBe('a:g c:g d:g b');
    expect(order(moveToGroup(made, 'a', null))).toBe('c:g a b d');
    expect(order(moveGroup(made, 'g', 2))).toBe('b d a:g c:g');
    expect(order(moveLayer(made, 'd', 1))).toBe('a:g d:g c:g b');
    expect(order(moveLayer(made, 'a', 3))).toBe('c:g b d a');
    expect(order(ungroup(made, 'g'))).toBe('a c b d');
    for (const each of [made, moveToGroup(made, 'd', 'g'), ungroup(made, 'g'), moveLayer(made, 'a', 3)]) sound(each);
  });
  test('an anchor of a pad may stand for a group; what the pad or a macro leaves behind is left by groups too', () => {
    const padded = spreadOverPad(made, ['g', 'b'], 'Pad')!.patch;
    sound(padded);
    expect(padded.groups[0].windows.map(({ source }) => source)).toEqual(['xy.1.anchor.1']);
    expect(deletePad(padded, 1).groups[0].windows).toEqual([]);
    sound(deletePad(padded, 1));
    const ended = ungroup(padded, 'g');
    expect(ended.xyPads[0].anchors.map(({ layerId }) => layerId)).toEqual([null, 'b']);
    sound(ended);
    const left = deleteAnchor(spreadOverPad(made, ['b', 'g'], 'Pad')!.patch, 1, 0);
    expect(left.groups[0].windows.map(({ source }) => source)).toEqual(['xy.1.anchor.1']);
    sound(left);
  });
  test('a group without members is gone, with its routes', () => {
    const routed = {
      ...setGroupParam(made, 'g', 'level', -3),
      routes: [...made.routes, route('cc.1', 'group.g.level', 0.1)],
    };
    const gone = deleteLayer(deleteLayer(routed, 'a'), 'c');
    expect(gone.groups).toEqual([]);
    expect(gone.routes).toEqual([]);
    sound(gone);
  });
  test('a copy has its members and routes along, under new ids', () => {
    let n = 0;
    const routed = { ...made, routes: [...made.routes, route('cc.1', 'group.g.level', 0.1)] };
    const copied = duplicateGroup(routed, 'g', () => `n${n++}`);
    expect(order(copied)).toBe('a:g c:g n1:n0 n2:n0 b d');
    expect(copied.routes.map(({ target }) => target)).toEqual([
      'layer.c.pan',
      'group.g.level',
      'layer.n2.pan',
      'group.n0.level',
    ]);
    sound(copied);
  });
  test('a rig of the version before comes without groups and with plain paths', () => {
    const rig = { ...newRig('r', 'R'), patches: [made], sounds: [newSound('s', 'S')] };
    const old = JSON.parse(JSON.stringify(rig)) as Record<string, unknown> & {
      patches: { groups?: unknown; layers: Record<string, unknown>[] }[];
    };
    old.version = 4;
    for (const each of old.patches) {
      delete each.groups;
      for (const layer of each.layers) {
        delete layer.groupId;
        delete layer.path;
        delete (layer.receive as Record<string, unknown>).sostenuto;
        delete (layer.receive as Record<string, unknown>).program;
      }
    }
    expect(order(readRig(old).patches[0])).toBe('a c b d');
    expect(readRig(rig)).toEqual(rig);
  });
});
