import type { MovedEvent, Take, TakeEvent } from '../music/take';
import { MOST_STRIPS, parseSource } from '../space/source';
import { newRoute } from './defaults';
import { setRest } from './edits/moves';
import { parseTarget, toNormal } from './parameters';
import type { Backing, Part, Patch, PatchTake, Sample } from './schema';

export type Note = Part['notes'][number];
export type Move = Part['moves'][number];

/** What of a take's moves is a strip of the patch, in the order of the numbers that they are played by. */
export const stripsOf = (take: PatchTake): string[] =>
  [
    ...new Set(
      take.parts.flatMap(({ moves, on }) => (on ? moves.flatMap(([, what]) => (isHand(what) ? [] : [what])) : [])),
    ),
  ]
    .filter((target) => parseTarget(target))
    .slice(0, MOST_STRIPS);

/** Whether a move is one of the hands, a macro or a pad: what can be played without a route. */
export const isHand = (what: string): boolean => {
  const kind = parseSource(what)?.kind;
  return (
    kind === 'cc' ||
    kind === 'bend' ||
    kind === 'channelPressure' ||
    kind === 'macro' ||
    kind === 'xyX' ||
    kind === 'xyY'
  );
};

/**
 * The patch as it plays while a take moves its strips: each rests at its lowest, and a strip of the take takes it to
 * where it should be; whatever else moves it still does.
 */
export const withTakeStrips = (patch: Patch, take: PatchTake): Patch =>
  stripsOf(take).reduce((left, target, i) => {
    const lowest = setRest(left, target, parseTarget(target)!.parameter.low);
    return { ...lowest, routes: [...lowest.routes, newRoute(`take-strip-${i + 1}`, `strip.${i + 1}`, target, 1)] };
  }, patch);

/** Who plays a part beside the patch: its number, from 1; 0: the patch itself. */
export type PlayerOf = (part: Part) => number;

/**
 * A take of quarters as one of seconds. Parts that are off are left out; what a move names that is not there is, too.
 */
export function playable(
  take: PatchTake,
  tempo: number,
  playerOf: PlayerOf,
  backing: readonly { backing: Backing; quarters: number; key: number; player: number }[] = [],
): Take {
  const second = 60 / tempo;
  const strips = stripsOf(take);
  const events: TakeEvent[] = [];
  for (const part of take.parts) {
    if (!part.on) continue;
    const to = playerOf(part);
    const put = (at: number, event: TakeEvent['event']) => {
      if (at <= take.quarters) events.push({ at: at * second, event, ...(to > 0 ? { to } : {}) });
    };
    for (const [at, length, key, velocity] of part.notes) {
      if (at >= take.quarters) continue;
      put(at, { type: 'noteOn', channel: 1, key, velocity });
      put(Math.min(at + length, take.quarters), { type: 'noteOff', channel: 1, key, velocity: 64 });
    }
    const dots = new Map<number, { x: number; y: number }>();
    for (const [at, what, value] of part.moves) {
      const event = eventOfMove(what, value, strips, dots);
      if (event) put(at, event);
    }
  }
  // Before its first move a strip of the take stands where that takes it.
  strips.forEach((target, i) => {
    const first = take.parts
      .flatMap(({ on, moves }) => (on ? moves.filter(([, what]) => what === target) : []))
      .sort((a, b) => a[0] - b[0])[0];
    if (first && first[0] > 0)
      events.push({
        at: 0,
        event: { type: 'strip', number: i + 1, value: toNormal(parseTarget(target)!.parameter, first[2]) },
      });
  });
  for (const {
    backing: { start, loop },
    quarters,
    key,
    player,
  } of backing) {
    for (let at = start; at < take.quarters; at += quarters) {
      events.push(
        { at: at * second, to: player, event: { type: 'noteOn', channel: 1, key, velocity: 127 } },
        {
          at: Math.min(at + quarters, take.quarters) * second,
          to: player,
          event: { type: 'noteOff', channel: 1, key, velocity: 64 },
        },
      );
      if (!loop || quarters < 0.05) break;
    }
  }
  // At one moment keys are let go before others are struck, and everything stands where it should before that.
  const rank = ({ event }: TakeEvent) => (event.type === 'noteOff' ? 0 : event.type === 'noteOn' ? 2 : 1);
  events.sort((a, b) => a.at - b.at || rank(a) - rank(b));
  return { name: take.name, seconds: take.quarters * second, events };
}

function eventOfMove(
  what: string,
  value: number,
  strips: readonly string[],
  dots: Map<number, { x: number; y: number }>,
): TakeEvent['event'] | undefined {
  const source = parseSource(what);
  if (source && isHand(what)) {
    if (value < source.low || value > source.high) return undefined;
    switch (source.kind) {
      case 'cc':
        return { type: 'controller', channel: 1, controller: source.index, value };
      case 'bend':
        return { type: 'bend', channel: 1, bend: value };
      case 'channelPressure':
        return { type: 'channelPressure', channel: 1, pressure: value };
      case 'macro':
        return { type: 'macro', number: source.index, value };
      default: {
        const dot = { ...(dots.get(source.index) ?? { x: 0.5, y: 0.5 }), [source.kind === 'xyX' ? 'x' : 'y']: value };
        dots.set(source.index, dot);
        return { type: 'xy', number: source.index, ...dot } satisfies MovedEvent;
      }
    }
  }
  const number = strips.indexOf(what) + 1;
  const parameter = parseTarget(what)?.parameter;
  return number > 0 && parameter ? { type: 'strip', number, value: toNormal(parameter, value) } : undefined;
}

/** Quarters that a recording lasts. */
export const quartersOf = (backing: Backing, sample: Pick<Sample, 'frames' | 'rate'>): number =>
  (sample.frames / sample.rate) * (backing.tempo / 60);

/**
 * A take of seconds as a part of notes and moves in quarters: for editing what came as a MIDI file. Notes without an
 * end last to that of the take.
 */
export function partOf(take: Take, tempo: number, id: string): Part {
  const quarter = 60 / tempo;
  const notes: Note[] = [];
  const moves: Move[] = [];
  const held = new Map<number, { at: number; velocity: number }>();
  const end = (key: number, at: number) => {
    const open = held.get(key);
    if (!open) return;
    held.delete(key);
    notes.push([round(open.at), round(Math.max(0.02, at - open.at)), key, open.velocity]);
  };
  for (const { at: seconds, event } of take.events) {
    const at = seconds / quarter;
    if (event.type === 'noteOn') {
      end(event.key, at);
      held.set(event.key, { at, velocity: event.velocity });
    } else if (event.type === 'noteOff') end(event.key, at);
    else if (event.type === 'controller') moves.push([round(at), `cc.${event.controller}`, event.value]);
    else if (event.type === 'bend') moves.push([round(at), 'bend', event.bend]);
    else if (event.type === 'channelPressure') moves.push([round(at), 'channelPressure', event.pressure]);
    else if (event.type === 'macro') moves.push([round(at), `macro.${event.number}`, event.value]);
  }
  for (const key of [...held.keys()]) end(key, take.seconds / quarter);
  return { id, name: 'hands', plays: 'patch', on: true, level: 0, notes: sorted(notes), moves };
}

const round = (x: number): number => Math.round(x * 960) / 960;
/** Notes in the order in which they are struck. */
export const sorted = (notes: readonly Note[]): Note[] => [...notes].sort((a, b) => a[0] - b[0] || a[2] - b[2]);

/**
 * What the hands play in a patch's first take, at its own tempo, without what plays along; undefined where it has none.
 */
export function handsTake(patch: Pick<Patch, 'takes' | 'tempo'>): Take | undefined {
  const take = patch.takes[0];
  if (!take) return undefined;
  const played = playable(take, patch.tempo, (part) => (part.plays === 'patch' ? 0 : 1));
  return { ...played, events: played.events.filter(({ to }) => !to) };
}
