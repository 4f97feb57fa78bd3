import { nameOfKey } from '../../music/noteNames';
import { updateSound } from '../../rig/edits/zones';
import { runsOf } from '../answers';
import { quoted, strike, type Rule } from '../finding';
import { soundsPlayed } from '../recordings';

/** Velocities between the dynamics of a sound that no zone answers. */
export const velocityGap: Rule = {
  id: 'velocity-gap',
  shelf: 'keys',
  title: 'A gap between dynamics',
  why: 'Strikes of just that force are silent, a few in a hundred, and never when one looks for them.',
  help: 'On each key of a sound the velocities of its zones should meet. A gap comes of borders that were typed one by one. Where the softest or hardest strikes alone are silent it may be meant, and nothing is said.',
  *find({ rig, patch }) {
    for (const { layer, sound, struck } of soundsPlayed(rig, patch)) {
      const soundId = sound.id;
      const gaps = new Map<string, number[]>();
      for (let key = rig.controllers.keyLow; key <= rig.controllers.keyHigh; key++) {
        const here = sound.zones.filter(
          (zone) => zone.trigger === 'attack' && key >= zone.key.low && key <= zone.key.high,
        );
        if (here.length < 2) continue;
        const from = Math.min(...here.map(({ velocity }) => velocity.low));
        const to = Math.max(...here.map(({ velocity }) => velocity.high));
        const silent: number[] = [];
        for (let velocity = from; velocity <= to; velocity++)
          if (!here.some((zone) => velocity >= zone.velocity.low && velocity <= zone.velocity.high))
            silent.push(velocity);
        for (const [low, high] of runsOf(silent))
          gaps.set(`${low} ${high}`, [...(gaps.get(`${low} ${high}`) ?? []), key]);
      }
      for (const [name, keys] of gaps) {
        const [low, high] = name.split(' ').map(Number);
        yield {
          grade: 'sure',
          where: {
            patchId: patch.id,
            layerIds: [layer.id],
            soundId,
            keys: [struck(keys[0]), struck(keys[keys.length - 1])],
            velocities: [low, high],
          },
          hear: strike(struck(keys[0]), low, { alone: [layer.id] }),
          message: `In ${quoted(sound)} nothing answers ${low === high ? `velocity ${low}` : `velocities ${low} to ${high}`} ${keys.length === 1 ? `on ${nameOfKey(keys[0], 4)}` : `on ${keys.length} keys from ${nameOfKey(keys[0], 4)}`}.`,
          fixes: [
            {
              label: 'The softer dynamic reaches up to the harder',
              safe: true,
              edit: (old) =>
                updateSound(old, soundId, (value) => ({
                  ...value,
                  zones: value.zones.map((zone) =>
                    zone.trigger === 'attack' &&
                    zone.velocity.high === low - 1 &&
                    keys.some((key) => key >= zone.key.low && key <= zone.key.high)
                      ? { ...zone, velocity: { ...zone.velocity, high } }
                      : zone,
                  ),
                })),
            },
          ],
        };
      }
    }
  },
};
