import { array, boolean, mixed, number, object, string, ValidationError, type InferType, type ObjectSchema } from 'yup';
import { isMeaningful, type EngineEvent } from '../engine/hands/event';
import type { Take } from '../music/take';
import type { Change, Changes } from './changes';

/**
 * What two machines say to one another that play in step: one leads, the other follows, some blocks later and mute. Both
 * know the same messages, for they may change their parts.
 */

const whole = (most: number) => number().strict().required().integer().min(0).max(most);
const words = (most: number) => string().strict().defined().max(most);
const one = <T extends string>(type: T) => string<T>().required().oneOf([type]);
/** Blocks of an engine: 2⁴⁰ of 128 frames are some ninety years. */
const block = () => whole(2 ** 40);

/** So many steps in a message, and bytes of a sample (as base64) in one, at the most. */
export const MOST_STEPS = 2048,
  SAMPLE_PIECE = 98_304;
const MOST_CHANGES = 64;
/** Notes and moves of a take at the most. */
const MOST_EVENTS = 200_000;
const MOST_PIECES = 4096;
/** Signs of a message that is sent whole; a longer one goes in pieces. */
export const PIECE_SIGNS = 60_000;

/**
 * What the engine that leads was told before a block of it, counted from its beginning: an event so many frames ahead, the
 * patch that plays from then on, where pairs of outputs go.
 */
export type Step = { at: number } & (
  { event: EngineEvent; ahead: number } | { show: Changes } | { outputs: readonly number[] }
);

const isWhole = (x: unknown, most: number): x is number =>
  Number.isInteger(x) && (x as number) >= 0 && (x as number) <= most;
const isObject = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null && !Array.isArray(x);

function isChange(change: unknown): change is Change {
  if (!isObject(change)) return false;
  if ('value' in change) return true;
  if ('gone' in change) return change.gone === true;
  const { ids, items } = change as { ids?: unknown; items?: unknown };
  return (
    Array.isArray(ids) &&
    ids.every((id) => typeof id === 'string') &&
    Array.isArray(items) &&
    items.every((item) => isObject(item) && typeof item.id === 'string')
  );
}
const isChanges = (changes: unknown): changes is Changes =>
  Array.isArray(changes) &&
  changes.length <= MOST_CHANGES &&
  changes.every((pair) => Array.isArray(pair) && pair.length === 2 && typeof pair[0] === 'string' && isChange(pair[1]));

function isStep(step: unknown): step is Step {
  if (!isObject(step) || !isWhole(step.at, 2 ** 40)) return false;
  if ('event' in step)
    return isWhole(step.ahead, 1e9) && isObject(step.event) && isMeaningful(step.event as EngineEvent);
  if ('show' in step) return isChanges(step.show);
  return Array.isArray(step.outputs) && step.outputs.length <= 8 && step.outputs.every((pair) => isWhole(pair, 3));
}

const isTake = (take: unknown): take is Take =>
  isObject(take) &&
  typeof take.name === 'string' &&
  typeof take.seconds === 'number' &&
  take.seconds >= 0 &&
  Array.isArray(take.events) &&
  take.events.length <= MOST_EVENTS &&
  take.events.every(
    (each) =>
      isObject(each) &&
      typeof each.at === 'number' &&
      each.at >= 0 &&
      (each.to === undefined || isWhole(each.to, 4)) &&
      isObject(each.event) &&
      isMeaningful(each.event as EngineEvent),
  );

const changes = () => mixed<Changes>().required().test('changes', 'no changes', isChanges);
const sampleId = () =>
  string()
    .strict()
    .required()
    .matches(/^[\w-]{1,64}$/);

const MESSAGES = {
  /** Once the line stands. `leads`: it plays; `asks`: it would like to follow. */
  hello: object({ type: one('hello'), name: words(40), leads: boolean().strict().required() }).noUnknown(),
  /** The one that leads lets the other follow. */
  accept: object({ type: one('accept') }).noUnknown(),
  /** The rig that is heard, as it has changed; `document`: it is also the one that is edited. */
  rig: object({ type: one('rig'), changes: changes(), document: boolean().strict().required() }).noUnknown(),
  /** A sample from a byte on. */
  want: object({ type: one('want'), id: sampleId(), from: whole(2 ** 32) }).noUnknown(),
  /** `total` 0: it is not there. */
  sample: object({
    type: one('sample'),
    id: sampleId(),
    from: whole(2 ** 32),
    total: whole(2 ** 32),
    data: words(Math.ceil((SAMPLE_PIECE * 4) / 3) + 4),
  }).noUnknown(),
  /** What follows lacks so many samples, or a touch that begins its sound. */
  lacks: object({ type: one('lacks'), count: whole(1e6), sound: boolean().strict().required() }).noUnknown(),
  /** An engine has begun, from which steps are counted. */
  begin: object({
    type: one('begin'),
    epoch: whole(1e9),
    rate: whole(1e6),
    seed: whole(1e9),
    maxVoices: whole(4096),
  }).noUnknown(),
  /**
   * Steps in order, and that nothing else was told before block `upTo`. `sums`: of each second, a sum over all bits that it
   * made, and its power.
   */
  steps: object({
    type: one('steps'),
    epoch: whole(1e9),
    upTo: block(),
    steps: mixed<Step[]>()
      .required()
      .test('steps', 'no steps', (list) => Array.isArray(list) && list.length <= MOST_STEPS && list.every(isStep)),
    sums: array(
      object({
        second: block(),
        hash: number().strict().required().integer(),
        power: number().strict().required().min(0),
      }).noUnknown(),
    )
      .strict()
      .required()
      .max(64),
  }).noUnknown(),
  /** How the one that follows stands. `since`: seconds that both have made the same bits; −1: they have not. */
  stands: object({
    type: one('stands'),
    since: number().strict().required().min(-1).max(1e9),
    why: words(200),
    lagMs: number().strict().required().min(0).max(1e6),
  }).noUnknown(),
  /** Where the show is. */
  place: object({
    type: one('place'),
    stepId: string().strict().nullable().defined().max(80),
    patchId: string().strict().nullable().defined().max(80),
  }).noUnknown(),
  /** The take that plays: since which block, and from where in it in seconds; none plays where it is null. */
  take: object({
    type: one('take'),
    plays: object({
      block: block(),
      seconds: number().strict().required().min(0).max(1e6),
      looped: boolean().strict().required(),
    })
      .noUnknown()
      .nullable()
      .defined(),
  }).noUnknown(),
  /** The take that is before the player there: told before it plays. */
  score: object({ type: one('score'), take: mixed<Take>().required().test('take', 'no take', isTake) }).noUnknown(),
  /** From now on I lead. */
  took: object({ type: one('took') }).noUnknown(),
  /** A part of a message that is too long for one. */
  piece: object({
    type: one('piece'),
    n: whole(MOST_PIECES),
    of: whole(MOST_PIECES),
    text: words(PIECE_SIGNS),
  }).noUnknown(),
} satisfies Record<string, ObjectSchema<{ type: string }>>;
export type SpareMessage = InferType<(typeof MESSAGES)[keyof typeof MESSAGES]>;

/** What another machine said, or undefined where it is nothing that is known. */
export function readSpare(json: unknown): SpareMessage | undefined {
  const type = isObject(json) ? json.type : undefined;
  if (typeof type !== 'string' || !Object.hasOwn(MESSAGES, type)) return undefined;
  try {
    return MESSAGES[type as keyof typeof MESSAGES].validateSync(json, { strict: true }) as SpareMessage;
  } catch (error) {
    if (error instanceof ValidationError) return undefined;
    throw error;
  }
}

/** A message as it goes over the line: in one, or in pieces that go one after another. */
export function inPieces(message: SpareMessage): SpareMessage[] {
  const text = JSON.stringify(message);
  if (text.length <= PIECE_SIGNS) return [message];
  const of = Math.ceil(text.length / PIECE_SIGNS);
  return Array.from({ length: of }, (_, n) => ({
    type: 'piece',
    n,
    of,
    text: text.slice(n * PIECE_SIGNS, (n + 1) * PIECE_SIGNS),
  }));
}

/** Puts together what came in pieces; one that is missing drops them all. */
export class Pieces {
  private readonly texts: string[] = [];

  /** The message that is whole now, if any. */
  hear(message: SpareMessage): SpareMessage | undefined {
    if (message.type !== 'piece') return message;
    if (message.n === 0) this.texts.length = 0;
    if (message.n !== this.texts.length) return undefined;
    this.texts.push(message.text);
    if (this.texts.length < message.of) return undefined;
    const text = this.texts.splice(0).join('');
    try {
      const whole = readSpare(JSON.parse(text));
      return whole?.type === 'piece' ? undefined : whole;
    } catch {
      return undefined;
    }
  }
}
