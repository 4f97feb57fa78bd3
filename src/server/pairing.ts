import { createHash, randomBytes, randomInt, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage, Server } from 'node:http';
import { networkInterfaces } from 'node:os';
import type { Duplex } from 'node:stream';
import { WebSocket, WebSocketServer } from 'ws';
import {
  Bucket,
  LIMITS,
  readGuest,
  readHello,
  readHost,
  PAGE_GONE,
  readLink,
  type GuestMessage,
  type Seat,
  type ToGuest,
  type ToHost,
} from '../core/remote/messages';
import { leadAway } from './away';
import { Osc } from './osc';

/** Signs that nobody takes for one another. */
const SIGNS = 'ABCDEFGHJKMNPQRSTVWXYZ23456789';
const CODE_SIGNS = 8;
const CODE_MS = 10 * 60_000;
/** Wrong codes that one address may try in a minute, and all of them until the code is another. */
const TRIES = 5,
  TRIES_OF_ALL = 20,
  TRIES_MS = 60_000;
/**
 * Connections at once that are not paired yet, those of one address, and how long one may keep others out without a
 * word.
 */
const WAITING = 16,
  WAITING_OF_ONE = 4,
  WORDLESS_MS = 1000;
/** A connection that was refused is cut when it has had so long to close. */
const FAREWELL_MS = 1000;
const GOING = 1008;

/**
 * `tokens`: hashes of the one it came with and the one it was given: the first holds until the second was used, for a
 * line may break before that arrives.
 */
interface Guest {
  id: number;
  name: string;
  /** A second machine, which plays in step: its messages are longer, and none of them may be lost. */
  spare: boolean;
  socket: WebSocket | null;
  tokens: Buffer[];
}
interface Waiting {
  socket: WebSocket;
  address: string;
  since: number;
}
interface Room {
  host: WebSocket;
  code: string;
  until: number;
  wrong: number;
  guests: Map<number, Guest>;
  nextId: number;
}

const hashOf = (text: string): Buffer => createHash('sha256').update(text).digest();
const isLoopback = (address: string | undefined): boolean =>
  address !== undefined && /^(::1|127\.|::ffff:127\.)/.test(address);
/** Browsers say which page a connection comes of: only pages of this server may. */
const isOwnPage = ({ headers: { origin, host } }: IncomingMessage): boolean => {
  try {
    return origin !== undefined && host !== undefined && new URL(origin).host === host;
  } catch {
    return false;
  }
};

export interface PairingOptions {
  now?: () => number;
  addresses?: () => string[];
  silentMs?: number;
}

/**
 * Pairs tablets and phones with the page that plays. There is nothing until a page on this machine opens a room; a
 * device then needs the code that this page shows, which serves once and for ten minutes, and
 * gets a token to come back with, and another each time. The page keeps their hashes, so that a server that was started
 * anew lets the same devices in. What devices send is checked, counted and passed on to the page alone.
 */
export class Pairing {
  private room: Room | null = null;
  private readonly hosts = new WebSocketServer({ noServer: true, maxPayload: LIMITS.hostBytes });
  private readonly guests = new WebSocketServer({ noServer: true, maxPayload: LIMITS.guestBytes });
  private readonly away = new WebSocketServer({ noServer: true, maxPayload: LIMITS.hostBytes });
  private readonly spares = new WebSocketServer({ noServer: true, maxPayload: LIMITS.spareBytes });
  private readonly tries = new Map<string, number[]>();
  private readonly waiting = new Set<Waiting>();
  private readonly now: () => number;
  readonly osc = new Osc((message) => {
    if (this.room) this.tellHost({ type: 'from', id: OSC_ID, message });
  });

  constructor(
    server: Server,
    private readonly options: PairingOptions = {},
  ) {
    this.now = options.now ?? Date.now;
    server.on('upgrade', (request, socket, head) => this.upgrade(request, socket, head));
  }

  private upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    const refuse = (status: string) => {
      socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`, () => socket.destroy());
    };
    socket.on('error', () => undefined);
    if (!isOwnPage(request)) return refuse('403 Forbidden');
    const { url } = request;
    if (url === '/pair/host' || url === '/pair/away') {
      if (
        !isLoopback(request.socket.remoteAddress) ||
        !/^(localhost|127\.\d+\.\d+\.\d+|\[::1\])(:\d+)?$/.test(request.headers.host ?? '')
      )
        return refuse('403 Forbidden');
      if (url === '/pair/away') return this.away.handleUpgrade(request, socket, head, leadAway);
      return this.hosts.handleUpgrade(request, socket, head, (host) => this.welcomeHost(host));
    }
    if (url !== '/pair/guest' && url !== '/pair/spare') return refuse('404 Not Found');
    const address = request.socket.remoteAddress ?? '';
    if (!this.room || !this.hasRoomFor(address)) return refuse('403 Forbidden');
    const spare = url === '/pair/spare';
    (spare ? this.spares : this.guests).handleUpgrade(request, socket, head, (guest) =>
      this.welcomeGuest(guest, address, spare),
    );
  }

  /**
   * Whether one more may wait: where there are enough, one that has said nothing for a while goes, of the same address
   * first.
   */
  private hasRoomFor(address: string): boolean {
    const own = [...this.waiting].filter((each) => each.address === address);
    const full = own.length >= WAITING_OF_ONE ? own : this.waiting.size >= WAITING ? [...this.waiting] : null;
    if (!full) return true;
    // In the order of their coming.
    const [oldest] = full;
    if (this.now() - oldest.since < WORDLESS_MS) return false;
    this.waiting.delete(oldest);
    refuse(oldest.socket, 'nothing was said');
    return true;
  }

  // The page that plays

  private welcomeHost(host: WebSocket): void {
    const bucket = new Bucket(LIMITS.hostRate, LIMITS.hostBurst, this.now());
    host.on('error', () => undefined);
    host.on('message', (data) => {
      const message = readHost(String(data));
      if (!message || !bucket.take(this.now())) return;
      switch (message.type) {
        case 'open':
          return this.open(host, message.seats ?? []);
        case 'close':
          return this.close(host);
        case 'osc':
          return void this.osc.set(message.in, message.out).then((problem) => {
            if (host.readyState === WebSocket.OPEN)
              say(host, { type: 'osc', in: this.osc.heardAt, out: this.osc.sentTo, problem });
          });
        case 'say':
          return this.osc.send(message.address, message.values);
      }
      if (this.room?.host !== host) return;
      if (message.type === 'dismiss') this.dismiss(message.id);
      else
        for (const { id, socket, spare } of this.room.guests.values())
          // What is said to all is for those who look.
          if (socket && (message.to === undefined ? !spare : message.to === id)) {
            const told: ToGuest = { type: 'told', body: message.body as never };
            if (spare) sayWhole(socket, told);
            else sayGuest(socket, told);
          }
    });
    host.on('close', () => {
      this.lose(host);
      if (this.hosts.clients.size === 0) void this.osc.set(null, null);
    });
  }

  /** A room with a code of its own; the page that opened one before loses it. */
  private open(host: WebSocket, seats: readonly Seat[]): void {
    if (this.room && this.room.host !== host) {
      say(this.room.host, { type: 'problem', text: 'Another tab offers the pairing now.' });
      this.close(this.room.host);
    }
    if (!this.room) {
      const guests = new Map(
        seats.map(
          ({ id, name, tokens, spare = false }) =>
            [
              id,
              { id, name, spare, socket: null, tokens: tokens.map((token) => Buffer.from(token, 'base64url')) },
            ] as const,
        ),
      );
      this.room = { host, code: '', until: 0, wrong: 0, guests, nextId: 1 + Math.max(0, ...guests.keys()) };
    }
    this.newCode();
  }

  private newCode(): void {
    const { room } = this;
    if (!room) return;
    room.code = Array.from({ length: CODE_SIGNS }, () => SIGNS[randomInt(SIGNS.length)]).join('');
    room.until = this.now() + CODE_MS;
    room.wrong = 0;
    say(room.host, {
      type: 'room',
      code: room.code,
      until: room.until,
      addresses: (this.options.addresses ?? addressesHere)(),
    });
  }

  /** Ends the pairing: the devices are told. */
  private close(host: WebSocket): void {
    if (this.room?.host !== host) return;
    for (const { socket } of this.room.guests.values()) if (socket) refuse(socket, 'the pairing was ended');
    this.room = null;
    this.tries.clear();
  }

  /** The page has gone without a word, as when it is loaded anew: devices keep their tokens and try again. */
  private lose(host: WebSocket): void {
    if (this.room?.host !== host) return;
    for (const { socket } of this.room.guests.values()) if (socket) end(socket, PAGE_GONE);
    this.room = null;
  }

  private dismiss(id: number): void {
    const guest = this.room?.guests.get(id);
    if (!guest) return;
    this.forget(guest);
    if (guest.socket) refuse(guest.socket, 'this device was sent away');
  }

  private forget(guest: Guest): void {
    if (this.room?.guests.delete(guest.id)) this.tellHost({ type: 'gone', id: guest.id });
  }

  private get isFull(): boolean {
    return [...(this.room?.guests.values() ?? [])].filter(({ socket }) => socket).length >= LIMITS.guests;
  }

  private tellHost(message: ToHost): void {
    if (this.room) say(this.room.host, message);
  }

  // Devices

  private welcomeGuest(socket: WebSocket, address: string, spare: boolean): void {
    const here: Waiting = { socket, address, since: this.now() };
    this.waiting.add(here);
    const greet = () => {
      this.waiting.delete(here);
      clearTimeout(patience);
    };
    const patience = setTimeout(() => refuse(socket, 'nothing was said'), LIMITS.helloMs);
    socket.on('error', () => undefined);
    socket.on('close', greet);
    socket.once('message', (data) => {
      if (socket.readyState !== WebSocket.OPEN) return;
      greet();
      const hello = readHello(String(data));
      const guest = !hello
        ? 'this was no greeting'
        : hello.type === 'join'
          ? this.join(hello.code, hello.name, address, spare)
          : this.comeBack(hello.token, address, spare);
      if (typeof guest === 'string') return refuse(socket, guest, guest === FULL);
      this.seat(guest, socket);
    });
  }

  /** A device with the code; gives why not where it is refused. */
  private join(code: string, name: string, address: string, spare: boolean): Guest | string {
    const { room } = this;
    if (!room) return 'nothing is offered';
    if (this.hasTriedTooOften(address)) return 'too many wrong codes: wait a minute';
    const clean = code.toUpperCase().replace(/[^A-Z0-9]/g, '');
    if (this.now() > room.until) {
      this.newCode();
      return 'this code is too old: the page shows another';
    }
    if (!same(hashOf(clean), hashOf(room.code))) {
      this.remember(address);
      if (++room.wrong >= TRIES_OF_ALL) this.newCode();
      return 'this is not the code that the page shows';
    }
    if (this.isFull) return FULL;
    const called = name.trim().slice(0, 40) || 'device';
    const guest: Guest = { id: room.nextId++, name: called, spare, socket: null, tokens: [] };
    room.guests.set(guest.id, guest);
    // In the order of their coming: who was let in first and is away is forgotten first.
    const away = [...room.guests.values()].filter((each) => !each.socket && each !== guest);
    for (const each of away.slice(0, Math.max(0, away.length - LIMITS.absent))) this.forget(each);
    this.newCode();
    return guest;
  }

  /** A device that was here before. */
  private comeBack(token: string, address: string, spare: boolean): Guest | string {
    const { room } = this;
    if (!room) return 'nothing is offered';
    if (this.hasTriedTooOften(address)) return 'too many wrong codes: wait a minute';
    const hash = hashOf(token);
    const guest = [...room.guests.values()].find(
      (each) => each.spare === spare && each.tokens.some((token) => same(token, hash)),
    );
    if (guest) {
      if (!guest.socket && this.isFull) return FULL;
      guest.tokens = [hash];
      return guest;
    }
    this.remember(address);
    return 'this device is not paired any more';
  }

  private seat(guest: Guest, socket: WebSocket): void {
    const before = guest.socket;
    guest.socket = socket;
    if (before) {
      refuse(before, 'the device connected anew');
      this.tellHost({ type: 'left', id: guest.id });
    }
    const token = randomBytes(32).toString('base64url');
    guest.tokens = [...guest.tokens, hashOf(token)].slice(-2);
    sayGuest(socket, { type: 'welcome', token });
    this.tellHost({
      type: 'joined',
      id: guest.id,
      name: guest.name,
      spare: guest.spare,
      tokens: guest.tokens.map((each) => each.toString('base64url')),
    });
    const patience = setTimeout(() => end(socket, 'nothing was heard'), this.options.silentMs ?? LIMITS.silentMs);
    const bucket = guest.spare
      ? new Bucket(LIMITS.spareRate, LIMITS.spareBurst, this.now())
      : new Bucket(LIMITS.guestRate, LIMITS.guestBurst, this.now());
    let dropped = 0;
    socket.on('message', (data) => {
      if (guest.socket !== socket) return;
      patience.refresh();
      if (!bucket.take(this.now())) {
        if (++dropped === LIMITS.flood) {
          this.forget(guest);
          refuse(socket, 'this device sent too much');
        }
        return;
      }
      dropped = Math.max(0, dropped - 1);
      const message = guest.spare ? readLink(String(data)) : readGuest(String(data));
      if (message) this.tellHost({ type: 'from', id: guest.id, message });
    });
    const alive = guest.spare ? setInterval(() => sayGuest(socket, { type: 'alive' }), LIMITS.aliveMs) : undefined;
    socket.on('close', () => {
      clearTimeout(patience);
      clearInterval(alive);
      if (guest.socket !== socket) return;
      guest.socket = null;
      this.tellHost({ type: 'left', id: guest.id });
    });
  }

  private hasTriedTooOften(address: string): boolean {
    const since = this.now() - TRIES_MS;
    const recent = (this.tries.get(address) ?? []).filter((at) => at > since);
    if (recent.length > 0) this.tries.set(address, recent);
    else this.tries.delete(address);
    return recent.length >= TRIES;
  }

  private remember(address: string): void {
    this.tries.set(address, [...(this.tries.get(address) ?? []), this.now()]);
  }

  /** Ends everything. */
  async end(): Promise<void> {
    for (const client of [...this.hosts.clients, ...this.guests.clients, ...this.spares.clients, ...this.away.clients])
      client.terminate();
    this.room = null;
    await this.osc.set(null, null);
  }
}

/** By which the page knows what comes by OSC: no device. */
export const OSC_ID = 0;

const same = (a: Buffer, b: Buffer): boolean => a.length === b.length && a.length > 0 && timingSafeEqual(a, b);
const say = (socket: WebSocket, message: ToHost): void => {
  if (socket.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message));
};
/** A device that does not keep up misses what is only of the moment. */
const sayGuest = (socket: WebSocket, message: ToGuest): void => {
  if (socket.readyState === WebSocket.OPEN && (message.type !== 'told' || socket.bufferedAmount < SLOW_BYTES))
    socket.send(JSON.stringify(message));
};
const SLOW_BYTES = 512 * 1024;
/** A spare misses nothing; one whose line cannot take it is out of step, and is let go. */
const sayWhole = (socket: WebSocket, message: ToGuest): void => {
  if (socket.readyState !== WebSocket.OPEN) return;
  if (socket.bufferedAmount > MOST_WAITING) end(socket, 'this line is too slow');
  else socket.send(JSON.stringify(message));
};
const MOST_WAITING = 32 * 1024 * 1024;
/** Closes a connection, and cuts it where the other side does not close its own. */
function end(socket: WebSocket, why: string): void {
  socket.close(GOING, why);
  const cut = setTimeout(() => socket.terminate(), FAREWELL_MS);
  cut.unref();
  socket.once('close', () => clearTimeout(cut));
}
function refuse(socket: WebSocket, text: string, later = false): void {
  sayGuest(socket, later ? { type: 'refused', text, later } : { type: 'refused', text });
  end(socket, text);
}
const FULL = `${LIMITS.guests} devices are paired: send one away first`;

/** Addresses of this machine on local networks. */
const addressesHere = (): string[] =>
  Object.values(networkInterfaces()).flatMap((list) =>
    (list ?? []).filter(({ family, internal }) => family === 'IPv4' && !internal).map(({ address }) => address),
  );

export type { GuestMessage };
