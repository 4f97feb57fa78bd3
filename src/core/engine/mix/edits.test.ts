import fc from 'fast-check';
import { prepareSample } from '../../dsp/sample';
import { EFFECTS } from '../../effects';
import { markAt, newLayer, newPatch, newSound, newZone } from '../../rig/defaults';
import { groupLayers, ungroup } from '../../rig/edits/groups';
import { deleteLayer, duplicateLayer } from '../../rig/edits/layers';
import {
  addEffect,
  addPool,
  addSend,
  deleteEffect,
  deletePool,
  moveEffect,
  setEffectParam,
  takeConnection,
  updateConnection,
  updateEffect,
} from '../../rig/edits/mix';
import { connectionsOf, effectsIn, placesIn } from '../../rig/mix';
import type { Patch } from '../../rig/schema';
import { compile } from '../program/compile';
import { Engine } from '../engine';

const RATE = 48000;
const audio = {
  rate: RATE,
  channels: 1 as const,
  data: Float32Array.from({ length: RATE }, (_, i) => 0.3 * Math.sin(i * 0.03) * Math.exp(-i / 60000)),
};
const sound = newSound('s', 's', [
  { ...newZone('w', 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' } },
]);

test('whatever is edited in a mix under held notes, what comes out is finite, held by the limiter, and silent after a panic', () => {
  const steps = fc.array(fc.tuple(fc.nat(14), fc.nat(99), fc.nat(99), fc.nat(4), fc.integer({ min: 1, max: 600 })), {
    minLength: 10,
    maxLength: 40,
  });
  fc.assert(
    fc.property(steps, (list) => {
      let patch: Patch = {
        ...newPatch('p', 'p'),
        layers: ['a', 'b', 'c'].map((id, i) => newLayer(id, id, 's', markAt(i))),
      };
      const engine = new Engine({ rate: RATE, maxVoices: 24 });
      const left = new Float32Array(600),
        right = new Float32Array(600);
      let n = 0;
      for (const [what, x, y, share, frames] of list) {
        const places = placesIn(patch);
        const at = places[x % places.length],
          to = places[y % places.length];
        const all = effectsIn(patch);
        const effect = all[x % Math.max(1, all.length)]?.effect;
        const connections = connectionsOf(patch);
        const kind = EFFECTS[y % EFFECTS.length];
        switch (what) {
          case 0:
          case 1:
          case 2:
            patch = addEffect(patch, at, kind.id)?.patch ?? patch;
            break;
          case 3:
            if (effect) patch = deleteEffect(patch, effect.id);
            break;
          case 4:
            if (effect) patch = moveEffect(patch, effect.id, to, y % 4);
            break;
          case 5:
          case 6: {
            const parameters = effect ? Object.values(EFFECTS.find(({ id }) => id === effect.kind)!.parameters) : [];
            const parameter = parameters[y % Math.max(1, parameters.length)];
            if (effect && parameter)
              patch = setEffectParam(
                patch,
                effect.id,
                parameter.id,
                parameter.low + ((parameter.high - parameter.low) * share) / 4,
              );
            break;
          }
          case 7:
            patch = addPool(patch, `pool-${++n}`, kind.id)?.patch ?? patch;
            break;
          case 8:
            patch = addSend(patch, at, to);
            break;
          case 9:
            patch = takeConnection(patch, connections[x % connections.length].id, to);
            break;
          case 10:
            patch = updateConnection(patch, connections[x % connections.length].id, { level: y - 60, on: share > 0 });
            break;
          case 11:
            patch =
              patch.pools.length > 0 && share > 2
                ? deletePool(patch, patch.pools[0].id)
                : patch.groups.length > 0
                  ? ungroup(patch, patch.groups[0].id)
                  : groupLayers(patch, [patch.layers[0].id], `g${++n}`, 'g');
            break;
          case 12:
            patch =
              patch.layers.length > 1 && share > 1
                ? deleteLayer(patch, patch.layers[0].id)
                : duplicateLayer(patch, patch.layers[0].id, `d${++n}`);
            break;
          case 13:
            if (effect)
              patch = updateEffect(patch, effect.id, {
                on: share > 1,
                listens: share === 0 ? patch.layers[0].id : null,
              });
            break;
          default:
            patch = { ...patch, id: `p${share}` };
        }
        const program = compile(patch, {
          sounds: [sound],
          samples: [{ id: 'w', name: 'w', rate: RATE, channels: 1, frames: audio.data.length }],
          keyLow: 21,
          keyHigh: 108,
          rate: RATE,
        });
        for (const { key, loop, levels, reverse } of program.samples)
          engine.addSample(key, prepareSample(audio, loop, levels, reverse));
        engine.setProgram(program);
        engine.handle(
          x % 2 === 0
            ? { type: 'noteOn', channel: 1, key: 40 + (y % 40), velocity: 100 }
            : { type: 'noteOff', channel: 1, key: 40 + (y % 40), velocity: 64 },
        );
        if (x % 9 === 0) engine.handle({ type: 'listen', to: share > 2 ? null : { kind: 'place', id: at } });
        if (x % 7 === 0) engine.handle({ type: 'without', ids: share > 2 ? [] : ['*'], gainDb: share - 2 });
        engine.process(left, right, frames);
        for (let i = 0; i < frames; i++)
          if (!(Math.abs(left[i]) <= 0.9886 && Math.abs(right[i]) <= 0.9886)) return false;
      }
      engine.handle({ type: 'panic' });
      for (let i = 0; i < 40; i++) engine.process(left, right, 600);
      return Math.max(...left.map(Math.abs), ...right.map(Math.abs)) < 1e-6;
    }),
    { numRuns: 12 },
  );
}, 60_000);
