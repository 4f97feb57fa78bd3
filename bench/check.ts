import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { renderStrike } from '../src/core/bounce/render';
import type { BounceSettings } from '../src/core/bounce/plan';
import { checkPatch, RULES } from '../src/core/check';
import type { TakeHeard } from '../src/core/check/heard';
import type { Listening } from '../src/core/check/ear';
import { listen, listenToTake, measuredFrom } from '../src/core/check/listen';
import type { Prepared } from '../src/core/dsp/prepared';
import { compile, contextOf } from '../src/core/engine/program/compile';
import { readTake } from '../src/core/formats/midiFile';
import { prepare } from '../src/core/formats/prepare';
import { needsNoFile } from '../src/core/sounds/synth/tableIds';
import { readArchive } from '../src/core/formats/rigArchive';
import { readWav } from '../src/core/formats/wav';
import { recordingOf, type Recording } from '../src/core/measure/recording';
import { plainTake } from '../src/core/music/plainTake';
import { fullWindow, markAt, newLayer, newPatch, vibratoRoute } from '../src/core/rig/defaults';
import { setParam } from '../src/core/rig/edits/layers';
import { splitLayersAt } from '../src/core/rig/edits/windows';
import { handsTake } from '../src/core/rig/takes';
import type { Layer, Patch, Rig } from '../src/core/rig/schema';

const FOLDER = 'build/demo';

type Row = (name: string, value: string, bar: string, met: boolean) => void;

/** A seed gives numbers 0…1 that are the same each time. */
function chance(seed: number): () => number {
  let x = (seed * 2654435761) % 2147483647 || 1;
  return () => {
    x = (x * 16807) % 2147483647;
    return x / 2147483647;
  };
}

/**
 * Patches as players build them: one to four sounds of the demo, split, stacked, crossfaded by velocity or brought in
 * by the wheel, levels and tones as they are commonly set.
 */
export function sanePatch(rig: Rig, seed: number): Patch {
  const draw = chance(seed + 1);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(draw() * list.length)];
  const sounds = rig.sounds.filter(
    ({ kind, zones }) => kind === 'multisample' && zones.length > 0 && zones.some(({ key }) => key.high - key.low > 0),
  );
  const count = 1 + Math.floor(draw() * 3);
  const layerOf = (n: number): Layer => ({
    ...newLayer(`l${n}`, `Layer ${n}`, pick(sounds).id, markAt(n)),
    params: {
      level: Math.round(-20 + draw() * 8),
      ...(draw() < 0.3 ? { cutoff: 1500 + draw() * 8000 } : {}),
      ...(draw() < 0.3 ? { release: 0.2 + draw() } : {}),
      ...(draw() < 0.2 ? { attack: 0.02 + draw() * 0.4 } : {}),
    },
  });
  const layers = Array.from({ length: count }, (_, n) => layerOf(n));
  let patch: Patch = {
    ...newPatch(`sane-${seed}`, `Sane ${seed}`),
    layers,
    routes: layers.map(({ id }, n) => vibratoRoute(`v${n}`, id)),
    main: { level: -6, width: 100, effects: [] },
  };
  if (count > 1 && draw() < 0.4) {
    patch = splitLayersAt(patch, 'l0', 'l1', 48 + Math.floor(draw() * 12), 0);
    patch = {
      ...patch,
      layers: patch.layers.map((layer) =>
        layer.id === 'l0' ? { ...layer, receive: { ...layer.receive, sustain: false } } : layer,
      ),
    };
  }
  if (count > 2 && draw() < 0.5)
    patch = {
      ...patch,
      routes: patch.routes.filter(({ target }) => target !== 'layer.l2.vibratoDepth'),
      layers: patch.layers.map((layer) =>
        layer.id === 'l2'
          ? {
              ...layer,
              windows: [...layer.windows, { ...fullWindow('cc.1'), fadeIn: 100 }],
              receive: { ...layer.receive, wheel: false },
            }
          : layer,
      ),
    };
  return draw() < 0.3 ? setParam(patch, 'l0', 'pan', -0.2) : patch;
}

function demo(): { rig: Rig; listening: (patch: Patch, rig?: Rig) => Listening } {
  const { rig, wavs } = readArchive(readFileSync(join(FOLDER, 'perigee-tide.wavicle')));
  const prepared = new Map<string, Prepared>();
  const recordings = new Map<string, Recording>();
  const measured = measuredFrom((id) => readWav(wavs.get(id)!).audio);
  const listening = (patch: Patch, of = rig): Listening => {
    const path = join(FOLDER, 'takes', `${patch.id}.mid`);
    return {
      rig: of,
      patch,
      clock: () => performance.now(),
      take:
        handsTake(patch) ??
        (existsSync(path)
          ? readTake(readFileSync(path), patch.id)
          : plainTake(rig.controllers.keyLow, rig.controllers.keyHigh)),
      loop: measured.loop,
      recording: (id, pitched) => {
        const name = `${id} ${pitched}`;
        if (!recordings.has(name)) recordings.set(name, recordingOf(readWav(wavs.get(id)!).audio, pitched));
        return recordings.get(name);
      },
      prepared: (request) => {
        if (!prepared.has(request.key))
          prepared.set(request.key, prepare(request, needsNoFile(request) ? undefined : wavs.get(request.sampleId)!));
        return prepared.get(request.key);
      },
    };
  };
  return { rig, listening };
}

/** How long Check listens to the demo: every third patch of it, and the whole reckoned from there. */
export function listeningBench(row: Row): void {
  const { rig, listening } = demo();
  const some = rig.patches.filter((_, n) => n % 3 === 0);
  const began = performance.now();
  for (const patch of some) listen(listening(patch));
  const seconds = ((performance.now() - began) / 1000) * (rig.patches.length / some.length);
  row(
    `the demo listened to by Check, reckoned from ${some.length} patches`,
    `${seconds.toFixed(0)} s`,
    '40 s',
    seconds <= 40,
  );
}

/** What the rules find where nothing is wrong: in the demo, and in patches by chance. */
export function checkBench(row: Row, patches: number): void {
  const { rig, listening } = demo();
  const show = new Map<string, TakeHeard>();
  const began = performance.now();
  const heard = rig.patches.map((patch) => {
    const found = listen(listening(patch));
    if (found.take) show.set(patch.id, found.take);
    return found;
  });
  console.log(
    `        the demo was listened to in ${((performance.now() - began) / 1000).toFixed(0)} s: ${heard.reduce((sum, { strikes }) => sum + strikes, 0)} strikes`,
  );
  const found = rig.patches.flatMap((patch, n) =>
    checkPatch(rig, patch, { heard: heard[n], show })
      .filter(({ grade }) => grade !== 'taste')
      .map(({ rule, message }) => `${patch.name}: [${rule}] ${message}`),
  );
  for (const line of found) console.log(`        ${line}`);
  row('the demo rig: findings that are sure or measured', String(found.length), '0', found.length === 0);
  const numbers = performance.now();
  for (const [n, patch] of rig.patches.entries()) checkPatch(rig, patch, { heard: heard[n], show });
  console.log(
    `        the rules themselves take ${((performance.now() - numbers) / rig.patches.length).toFixed(0)} ms a patch`,
  );
  const byRule = new Map<string, number>();
  let counted = 0;
  for (let seed = 0; seed < patches; seed++) {
    const patch = sanePatch(rig, seed);
    const of: Rig = { ...rig, patches: [patch], setlists: [], setlist: null };
    const ear = { ...listening(patch, of), take: { seconds: 0, events: [] } };
    const own = listen(ear);
    const take = seed % 10 === 0 ? listenToTake(listening(patch, of)) : null;
    for (const { rule, grade, message } of checkPatch(of, patch, { heard: { ...own, take } })) {
      byRule.set(`${rule} (${grade})`, (byRule.get(`${rule} (${grade})`) ?? 0) + 1);
      if (grade === 'taste') continue;
      counted++;
      console.log(`        ${patch.name}: [${rule}] ${message}`);
    }
  }
  for (const [rule, times] of [...byRule].sort((a, b) => b[1] - a[1]))
    console.log(`        ${String(times).padStart(4)} ${rule}`);
  row(
    `${patches} patches by chance: sure or measured findings a patch`,
    (counted / patches).toFixed(3),
    'at most 0.1',
    counted / patches <= 0.1,
  );
  console.log(`        ${RULES.length} rules`);
}

/** How much faster than it plays a strike of sixteen voices is bounced, on one core. */
export function bounceBench(row: Row): void {
  const { rig, listening } = demo();
  const felt = rig.sounds.find(({ name }) => name === 'Reed Bank')!;
  const layers = Array.from({ length: 8 }, (_, n): Layer => ({
    ...newLayer(`l${n}`, `L${n}`, felt.id, markAt(n)),
    params: { level: -24, unison: 2, detune: 4 + n, cutoff: 4000, release: 0.5 },
  }));
  const patch: Patch = { ...newPatch('sixteen', 'Sixteen'), layers };
  const program = compile(patch, contextOf(rig, 48000));
  const { prepared } = listening(patch);
  const samples = program.samples.map((request) => ({ key: request.key, sample: prepared(request)! }));
  const settings: BounceSettings = {
    what: { kind: 'patch' },
    keys: [60],
    low: 0,
    high: 127,
    velocities: [100],
    alternates: 1,
    seconds: 6,
    longestTail: 10,
    stereo: true,
    loop: false,
    effects: true,
    rebuild: false,
    set: {},
  };
  const speeds: number[] = [];
  for (let n = 0; n < 8; n++) {
    const began = performance.now();
    const { audio } = renderStrike(program, samples, { solo: [], listen: null }, settings, {
      target: 0,
      key: 54 + n,
      velocity: 100,
      alternate: 0,
    });
    if (n > 1) speeds.push(audio.data.length / 2 / audio.rate / ((performance.now() - began) / 1000));
  }
  const speed = speeds.sort((a, b) => a - b)[speeds.length >> 1];
  row('bounce of sixteen voices on one core: times real time', `${speed.toFixed(0)} ×`, '30 ×', speed >= 30);
}
