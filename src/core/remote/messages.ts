import { array, boolean, mixed, number, object, string, ValidationError, type InferType, type ObjectSchema } from 'yup';

/**
 * What a paired device, the server between and the page that plays say to one another, as JSON text over WebSocket. The
 * server passes on nothing that these schemas do not know.
 */
const share = () => number().strict().required().min(0).max(1);
const one = <T extends string>(type: T) => string<T>().required().oneOf([type]);
const plain = <T extends string>(type: T) => object({ type: one(type) }).noUnknown();

/** What a device asks for, once it is paired. */
const GUEST = {
  macro: object({
    type: one('macro'),
    number: number().strict().required().integer().min(1).max(16),
    value: share(),
  }).noUnknown(),
  xy: object({
    type: one('xy'),
    number: number().strict().required().integer().min(1).max(4),
    x: share(),
    y: share(),
    letGo: boolean().strict().required(),
  }).noUnknown(),
  rest: object({
    type: one('rest'),
    kind: string<'macro' | 'xy'>().required().oneOf(['macro', 'xy']),
    number: number().strict().required().integer().min(1).max(16),
  }).noUnknown(),
  go: object({ type: one('go'), place: number().strict().required().integer().min(0).max(9999) }).noUnknown(),
  next: plain('next'),
  previous: plain('previous'),
  silence: plain('silence'),
  /** `at`: the device's own clock, sent back as it is; `latency`: ms that the last one took there and back. */
  ping: object({
    type: one('ping'),
    at: number().strict().required().min(0).max(1e15),
    latency: number().strict().required().min(0).max(1e6),
  }).noUnknown(),
} satisfies Record<string, ObjectSchema<{ type: string }>>;
export type GuestMessage = InferType<(typeof GUEST)[keyof typeof GUEST]>;

/** How a device begins: with the code that the page shows, or with the token that it was given before. */
const HELLO = {
  join: object({
    type: one('join'),
    code: string().strict().required().max(16),
    name: string().strict().defined().max(40),
  }).noUnknown(),
  return: object({ type: one('return'), token: string().strict().required().max(64) }).noUnknown(),
} satisfies Record<string, ObjectSchema<{ type: string }>>;
export type Hello = InferType<(typeof HELLO)[keyof typeof HELLO]>;

const port = () => number().strict().required().integer().min(1).max(65535);
/**
 * Four numbers of eight bits that stand for a machine (RFC 791): anything else would be looked up as a name on a
 * network.
 */
export const isAddress = (text: string): boolean => {
  const parts = text.split('.');
  return parts.length === 4 && parts.every((part) => /^(0|[1-9]\d{0,2})$/.test(part) && Number(part) <= 255);
};
const address = () => string().strict().required().test('address', 'no address', isAddress);
/**
 * A device that was let in: what it is called, and the hashes (SHA-256, base64url) of the tokens that it may come back
 * with.
 */
const seat = () =>
  object({
    id: number().strict().required().integer().min(1).max(1e9),
    name: string().strict().defined().max(40),
    tokens: array(
      string()
        .strict()
        .required()
        .matches(/^[\w-]{43}$/),
    )
      .strict()
      .required()
      .min(1)
      .max(2),
    /** A second machine, which plays in step. */
    spare: boolean().strict().optional(),
  }).noUnknown();
export type Seat = InferType<ReturnType<typeof seat>>;

/** What the page that plays tells the server. */
const HOST = {
  /** `seats`: devices of this page that a server before this one, or the page before it was loaded anew, had let in. */
  open: object({ type: one('open'), seats: array(seat()).strict().max(40).optional() }).noUnknown(),
  close: plain('close'),
  /** To all devices, or to one by its id: passed on as it is. */
  tell: object({
    type: one('tell'),
    to: number().strict().integer().min(0).optional(),
    body: mixed<object>().required(),
  }).noUnknown(),
  dismiss: object({ type: one('dismiss'), id: number().strict().required().integer().min(0) }).noUnknown(),
  /** Open Sound Control over UDP: where it is heard, and where it is sent; null: not. */
  osc: object({
    type: one('osc'),
    in: object({ address: address(), port: port() }).noUnknown().nullable().defined(),
    out: object({ address: address(), port: port() }).noUnknown().nullable().defined(),
  }).noUnknown(),
  say: object({
    type: one('say'),
    address: string()
      .strict()
      .required()
      .matches(/^\/wavicle\/[a-z0-9/]{1,60}$/),
    values: mixed<(number | string)[]>()
      .required()
      .test(
        'values',
        (list) =>
          Array.isArray(list) &&
          list.length <= 8 &&
          list.every((value) => (typeof value === 'string' ? value.length <= 200 : Number.isFinite(value))),
      ),
  }).noUnknown(),
} satisfies Record<string, ObjectSchema<{ type: string }>>;
export type HostMessage = InferType<(typeof HOST)[keyof typeof HOST]>;

/** What the page hears of the server. A code holds until it is used or `until` (ms of the server's clock). */
export type ToHost =
  | { type: 'room'; code: string; until: number; addresses: string[] }
  /** `tokens`: what the page keeps to let it in again after a restart of the server. */
  | { type: 'joined'; id: number; name: string; tokens: string[]; spare: boolean }
  | { type: 'left'; id: number }
  /** One that may not come back. */
  | { type: 'gone'; id: number }
  | { type: 'from'; id: number; message: GuestMessage | LinkMessage }
  | {
      type: 'osc';
      in: { address: string; port: number } | null;
      out: { address: string; port: number } | null;
      problem: string;
    }
  | { type: 'problem'; text: string };

/** Why a device's connection ends where the page that plays ended: closed, loaded anew, or killed. */
export const PAGE_GONE = 'the page that plays has gone';

/**
 * What a device hears: first whether it is paired, then what the page tells. `later`: its token holds, and it may try
 * again.
 */
export type ToGuest =
  /** To a spare, by the server itself: the machine is there, whatever its page does. */
  | { type: 'alive' }
  | { type: 'welcome'; token: string }
  | { type: 'refused'; text: string; later?: boolean }
  | { type: 'told'; body: ToldGuest };

/** What the page tells its devices. */
export type ToldGuest =
  /** To a spare: see `spare.ts`. */
  | { type: 'link'; body: object }
  | { type: 'stage'; stage: StageState }
  | { type: 'live'; live: LiveState }
  | { type: 'pong'; at: number };

/** The show as a device sees it. Colours are names of the theme's. */
export interface StageState {
  setlist: string;
  place: number;
  title: string;
  song: string;
  notes: string;
  /** Words and chords in ChordPro, as they are sung; empty: none. */
  page: string;
  next: string;
  tempo: number;
  transpose: number;
  steps: { title: string; song: string; pause: boolean }[];
  macros: { number: number; name: string; words: string; style: 'strip' | 'momentary' | 'latched'; colour: string }[];
  pads: {
    number: number;
    name: string;
    anchors: { name: string; x: number; y: number; colour: string; shape: string }[];
  }[];
}

/** Where things stand: macros and dots in the order of the stage, and how loud it is (0…1). */
export interface LiveState {
  macros: number[];
  dots: number[];
  level: number;
}

/**
 * Messages of devices are no longer than this, in bytes; those of the page; so many of each in a second, and at once.
 * Four fingers of a device tell where they are 62 times a second each; the page tells sixteen macros
 * by OSC, 20 times a second. So many devices play at once, and so many more are remembered; one that says nothing for
 * so long (it tells how fast the line is every second) is taken as lost. A spare may have to hand over its whole rig.
 */
export const LIMITS = {
  guestBytes: 512,
  hostBytes: 256 * 1024,
  guestRate: 300,
  guestBurst: 600,
  hostRate: 1000,
  hostBurst: 3000,
  guests: 8,
  absent: 24,
  flood: 1500,
  helloMs: 5000,
  silentMs: 15_000,
  aliveMs: 100,
  spareBytes: 256 * 1024,
  spareRate: 400,
  spareBurst: 2000,
} as const;

function read<T>(schemas: Record<string, ObjectSchema<{ type: string }>>, text: string): T | undefined {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return undefined;
  }
  const type = (json as { type?: unknown } | null)?.type;
  if (typeof type !== 'string' || !Object.hasOwn(schemas, type)) return undefined;
  try {
    return schemas[type].validateSync(json, { strict: true }) as T;
  } catch (error) {
    if (error instanceof ValidationError) return undefined;
    throw error;
  }
}

/** A message in a text, or undefined where it is none. */
export const readGuest = (text: string): GuestMessage | undefined => read(GUEST, text);
/** A message of a device that was let in as a spare: what it says to the page is read there, as `spare.ts` knows it. */
const SPARE = {
  link: object({ type: one('link'), body: mixed<object>().required() }).noUnknown(),
} satisfies Record<string, ObjectSchema<{ type: string }>>;
export type LinkMessage = InferType<(typeof SPARE)['link']>;
export const readLink = (text: string): LinkMessage | undefined => read(SPARE, text);

/** Where a page asks its own server to lead it: to another machine of the same network. */
const AWAY = {
  away: object({
    type: one('away'),
    address: address().test('near', 'not of this network', (text) => isNear(text)),
    port: port(),
  }).noUnknown(),
} satisfies Record<string, ObjectSchema<{ type: string }>>;
export type Away = InferType<(typeof AWAY)['away']>;
export const readAway = (text: string): Away | undefined => read(AWAY, text);

/** Whether an address is of a private network (RFC 1918), of one without a server (RFC 3927), or of this machine (RFC 1122). */
export function isNear(text: string): boolean {
  if (!isAddress(text)) return false;
  const [a, b] = text.split('.').map(Number);
  return (
    a === 10 || a === 127 || (a === 172 && b >= 16 && b <= 31) || (a === 192 && b === 168) || (a === 169 && b === 254)
  );
}

export const readHello = (text: string): Hello | undefined => read(HELLO, text);
export const readHost = (text: string): HostMessage | undefined => read(HOST, text);

/** Lets so many through in a second, and a burst of more now and then. */
export class Bucket {
  private left: number;
  private at: number;

  constructor(
    private readonly rate: number,
    private readonly burst: number,
    now: number,
  ) {
    this.left = burst;
    this.at = now;
  }

  /** Whether one more may pass at a time in ms. */
  take(now: number): boolean {
    this.left = Math.min(this.burst, this.left + ((now - this.at) / 1000) * this.rate);
    this.at = now;
    if (this.left < 1) return false;
    this.left--;
    return true;
  }
}
