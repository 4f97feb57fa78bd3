import { createHash } from 'node:crypto';
import { checkPatch, mendAll } from '../src/core/check';
import { NOTHING_HEARD, type Heard, type StepHeard } from '../src/core/check/heard';
import { Chance } from '../src/core/dsp/chance';
import { faultOf } from '../src/core/rig/read';
import type { Layer, Patch, Rig, Sound } from '../src/core/rig/schema';
import { demoRig } from './rig';

/** Rigs that were edited by nobody in his senses: the rules neither stumble nor propose what a rig could not hold. */

const demo = demoRig((bytes) => createHash('sha256').update(bytes).digest('hex'), 'small').rig;

function muddled(seed: number): Rig {
  const chance = new Chance(seed);
  const whole = (low: number, high: number) => low + Math.floor(chance.share() * (high - low + 1));
  const range = (low: number, high: number) => {
    const [a, b] = [whole(low, high), whole(low, high)].sort((x, y) => x - y);
    return { low: a, high: b, fadeIn: chance.share() < 0.3 ? whole(0, b - a) : 0, fadeOut: 0, shape: 'sine' as const };
  };
  const layer = (old: Layer): Layer => ({
    ...old,
    on: chance.share() > 0.1,
    transpose: chance.share() < 0.3 ? whole(-48, 48) : old.transpose,
    role: chance.share() < 0.2 ? 'bass' : old.role,
    windows: old.windows.map((window) =>
      chance.share() < 0.5 && window.source === 'key'
        ? { ...window, ...range(0, 127) }
        : chance.share() < 0.4 && window.source === 'velocity'
          ? { ...window, ...range(1, 127) }
          : window,
    ),
    receive: { ...old.receive, port: chance.share() < 0.1 ? 'Gone' : 'any' },
  });
  const sound = (old: Sound): Sound => ({
    ...old,
    zones: old.zones
      .filter(() => chance.share() > 0.1)
      .map((zone) => ({
        ...zone,
        key: chance.share() < 0.2 ? range(0, 127) : zone.key,
        velocity: chance.share() < 0.2 ? range(1, 127) : zone.velocity,
        alternate: chance.share() < 0.1 ? whole(0, 3) : zone.alternate,
        gain: chance.share() < 0.1 ? 48 : zone.gain,
        root: chance.share() < 0.1 ? whole(0, 127) : zone.root,
      })),
  });
  const patch = (old: Patch): Patch => ({
    ...old,
    layers: old.layers.map(layer),
    main: { ...old.main, level: whole(-60, 6) },
  });
  return { ...demo, sounds: demo.sounds.map(sound), patches: demo.patches.map(patch) };
}

/** What could have been heard, however unlikely. */
function anythingHeard(rig: Rig, patch: Patch, seed: number): Heard {
  const chance = new Chance(seed);
  const level = () => (chance.share() < 0.1 ? null : -60 * chance.share());
  const samples = Object.fromEntries(
    rig.samples.map(({ id, rate, frames }) => [
      id,
      {
        rate,
        frames,
        peakDb: level(),
        lufs: level(),
        dc: chance.share() - 0.5,
        onset: Math.floor(chance.share() * frames),
        clipped: Math.floor(chance.share() * 9),
        noiseDb: level(),
        hz: chance.share() < 0.2 ? null : 30 * 2 ** (7 * chance.share()),
        clarity: chance.share(),
      },
    ]),
  );
  const steps = patch.layers.flatMap((layer): StepHeard[] => {
    const sound = rig.sounds.find(({ id }) => id === layer.soundId);
    if (!sound || sound.zones.length < 2) return [];
    const strike = (velocity: number) => ({
      layerIds: [layer.id],
      key: 60,
      velocity,
      lufs: level(),
      middleHz: 100 + 4000 * chance.share(),
    });
    return [
      {
        layerIds: [layer.id],
        along: 'velocity',
        soft: strike(80),
        hard: strike(81),
        from: { soundId: sound.id, zones: [0] },
        to: { soundId: sound.id, zones: [1] },
      },
    ];
  });
  return {
    ...NOTHING_HEARD,
    samples,
    steps,
    mono: patch.layers.map(({ id }) => ({ layerId: id, key: 60, velocity: 90, lostDb: -20 * chance.share() })),
    chord: {
      keys: [40, 60],
      limiterDb: -30 * chance.share(),
      load: 2 * chance.share(),
      steady: chance.share() < 0.5,
      voices: 200,
    },
    pairs: patch.layers.slice(1).map(({ id }) => ({
      layerIds: [patch.layers[0].id, id] as const,
      key: 60,
      velocity: 90,
      likeness: -chance.share(),
      apartDb: 3,
    })),
    take: {
      lufs: -40 * chance.share(),
      peakDb: 0,
      limiterDb: -20 * chance.share(),
      monoDb: -20 * chance.share(),
      switchMs: 100 * chance.share(),
    },
  };
}

test('whatever a rig and what was heard of it are, the rules hold, and every edit that they propose leaves a rig that can be kept', () => {
  let findings = 0;
  let edits = 0;
  for (let seed = 1; seed <= 5; seed++) {
    const rig = muddled(seed);
    expect(faultOf(rig)).toBeUndefined();
    for (const patch of rig.patches) {
      const heard = anythingHeard(rig, patch, seed);
      const show = new Map(rig.patches.map(({ id }, n) => [id, { ...heard.take!, lufs: -20 - n }]));
      for (const finding of checkPatch(rig, patch, {
        heard,
        show,
        missing: new Set([rig.samples[seed % rig.samples.length].id]),
      })) {
        findings++;
        expect(finding.message.length).toBeGreaterThan(10);
        for (const { label, edit } of finding.fixes) {
          const fault = faultOf(edit(rig));
          expect({ seed, rule: finding.rule, label, fault: fault && `${fault.place}: ${fault.problem}` }).toEqual({
            seed,
            rule: finding.rule,
            label,
            fault: undefined,
          });
          edits++;
        }
      }
    }
    const mended = mendAll(rig, rig.patches[seed % rig.patches.length].id, {
      heard: anythingHeard(rig, rig.patches[seed % rig.patches.length], seed),
    });
    expect(faultOf(mended.rig)).toBeUndefined();
  }
  expect([findings > 100, edits > 100]).toEqual([true, true]);
});
