import type { Prepared } from '../dsp/prepared';
import { compile, contextOf } from '../engine/program/compile';
import { Engine } from '../engine/engine';
import { playTake } from '../engine/offline/playTake';
import type { SampleRequest } from '../engine/program/program';
import type { Take } from '../music/take';
import { connectionsOf, nameOfPlace, withoutLoose } from '../rig/mix';
import type { Patch, Rig } from '../rig/schema';

/**
 * A file of its own: a layer, what a group's effects do to its layers, what a shared effect gives back, or what the
 * main chain does to everything.
 */
export interface Stem {
  name: string;
  kind: 'layer' | 'group' | 'return' | 'main';
  left: Float32Array;
  right: Float32Array;
}
export interface Stems {
  whole: { left: Float32Array; right: Float32Array };
  stems: Stem[];
}

const BLOCK = 128;
/**
 * One thing alone fades in when it is asked for: all are rendered after so long, so that everything that moves is in
 * step.
 */
const LEAD_SECONDS = 0.05;

/**
 * Renders a take whole, and as files that sum to it: each layer as it goes into main or its group (after its own
 * effects, before shared ones), what groups' effects change, what shared effects give back, and what main's chain
 * and the limiter change. `told` hears how far it is, 0…1, and ends it by false. Throws where the patch cannot be
 * compiled.
 */
export function renderStems(
  rig: Rig,
  patch: Patch,
  take: Pick<Take, 'seconds' | 'events'>,
  prepared: (request: SampleRequest) => Prepared | undefined,
  {
    rate = 48000,
    tail = 2,
    seed = 1,
    told = () => true,
  }: { rate?: number; tail?: number; seed?: number; told?: (share: number) => boolean } = {},
): Stems {
  const hands = { ...take, events: take.events.filter(({ to }) => !to) };
  // What is taken before main is rendered without main's chain: then nothing is late by it.
  const before = withoutLoose({ ...patch, main: { ...patch.main, effects: [] } });
  const play = (of: Patch, connectionId: string | null) => {
    const program = compile(of, contextOf(rig, rate));
    const engine = new Engine({ rate, seed });
    for (const request of program.samples) {
      const sample = prepared(request);
      if (sample) engine.addSample(request.key, sample);
    }
    engine.setProgram(program);
    if (connectionId !== null) engine.handle({ type: 'listen', to: { kind: 'connection', id: connectionId } });
    const side = new Float32Array(BLOCK);
    for (let at = 0; at < LEAD_SECONDS * rate; at += BLOCK) engine.process(side, side, BLOCK);
    return playTake(engine, hands, tail);
  };
  const connections = connectionsOf(patch).filter(({ on }) => on);
  const intoMain = connections.filter(({ to }) => to === 'main');
  const wanted = connections.filter(
    ({ from, to }) => to === 'main' || (to.startsWith('group.') && from.startsWith('layer.')),
  );
  let done = 0;
  const heard = new Map<string, { left: Float32Array; right: Float32Array }>();
  const whole = play(patch, null);
  for (const { id } of wanted) {
    if (!told(++done / (wanted.length + 1))) throw new Error('given up');
    heard.set(id, play(before, id));
  }
  const stems: Stem[] = [];
  const sum = { left: new Float32Array(whole.left.length), right: new Float32Array(whole.right.length) };
  const add = (stem: Stem) => {
    stems.push(stem);
    for (let i = 0; i < sum.left.length; i++) {
      sum.left[i] += stem.left[i];
      sum.right[i] += stem.right[i];
    }
  };
  const layersOf = (place: string) => wanted.filter(({ from, to }) => to === place && from.startsWith('layer.'));
  for (const connection of wanted) {
    const sound = heard.get(connection.id)!;
    if (connection.from.startsWith('layer.')) {
      const several = wanted.filter(({ from }) => from === connection.from).length > 1;
      add({
        name: `${nameOfPlace(patch, connection.from)}${several ? ` to ${nameOfPlace(patch, connection.to)}` : ''}`,
        kind: 'layer',
        ...sound,
      });
    }
  }
  for (const connection of intoMain) {
    const sound = heard.get(connection.id)!;
    if (connection.from.startsWith('pool.'))
      add({ name: `${nameOfPlace(patch, connection.from)} return`, kind: 'return', ...sound });
    if (!connection.from.startsWith('group.')) continue;
    const members = layersOf(connection.from).map(({ id }) => heard.get(id)!);
    add({
      name: `${nameOfPlace(patch, connection.from)} effects`,
      kind: 'group',
      left: without(
        sound.left,
        members.map(({ left }) => left),
      ),
      right: without(
        sound.right,
        members.map(({ right }) => right),
      ),
    });
  }
  add({ name: 'main', kind: 'main', left: without(whole.left, [sum.left]), right: without(whole.right, [sum.right]) });
  return { whole, stems };
}

function without(from: Float32Array, parts: readonly Float32Array[]): Float32Array {
  const out = from.slice();
  for (const part of parts) for (let i = 0; i < out.length; i++) out[i] -= part[i];
  return out;
}
