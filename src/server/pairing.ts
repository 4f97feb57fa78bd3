import { createHash, randomBytes, randomInt, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage, Server } from 'node:http';
import { networkInterfaces } from 'node:os';
import type { Duplex } from 'node:stream';
import { WebSocket, WebSocketServer } from 'ws';
import { Bucket, LIMITS, readGuest, readHello, readHost, type GuestMessage, type ToGuest, type ToHost } from '../core/remote/messages';
import { Osc } from './osc';

/** Signs that nobody takes for one another. */
const SIGNS = 'ABCDEFGHJKMNPQRSTVWXYZ23456789';
const CODE_SIGNS = 8;
const CODE_MS = 10 * 60_000;
/** Wrong codes that one address may try in a minute, and all of them until the code is another. */
const TRIES = 5, TRIES_OF_ALL = 20, TRIES_MS = 60_000;
/** Connections at once that are not paired yet. */
const WAITING = 16;
const GOING = 1008;

interface Guest { id: number; name: string; socket: WebSocket | null; token: Buffer }
interface Room { host: WebSocket; code: string; until: number; wrong: number; guests: Map<number, Guest>; nextId: number }

const hashOf = (text: string): Buffer => createHash('sha256').update(text).digest();
const isLoopback = (address: string | undefined): boolean => address !== undefined && /^(::1|127\.|::ffff:127\.)/.test(address);
/** Browsers say which page a connection comes of: only pages of this server may. */
const isOwnPage = ({ headers: { origin, host } }: IncomingMessage): boolean => {
  try {
    return origin !== undefined && host !== undefined && new URL(origin).host === host;
  } catch {
    return false;
  }
};

export interface PairingOptions { now?: () => number; addresses?: () => string[] }

/**
 * Pairs tablets and phones with the page that plays. There is nothing until a page on this machine opens a room; a device then needs the code that this page shows, which serves once and for ten minutes, and
 * gets a token that serves for one return, when it is given another. What devices send is checked, counted and passed on to the page alone.
 */
export class Pairing {
  private room: Room | null = null;
  private readonly hosts = new WebSocketServer({ noServer: true, maxPayload: LIMITS.hostBytes });
  private readonly guests = new WebSocketServer({ noServer: true, maxPayload: LIMITS.guestBytes });
  private readonly tries = new Map<string, number[]>();
  private waiting = 0;
  private readonly now: () => number;
  readonly osc = new Osc((message) => { if (this.room) this.tellHost({ type: 'from', id: OSC_ID, message }); });

  constructor(server: Server, private readonly options: PairingOptions = {}) {
    this.now = options.now ?? Date.now;
    server.on('upgrade', (request, socket, head) => this.upgrade(request, socket, head));
  }

  private upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    const refuse = (status: string) => { socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`); };
    socket.on('error', () => undefined);
    if (!isOwnPage(request)) return refuse('403 Forbidden');
    if (request.url === '/pair/host') {
      if (!isLoopback(request.socket.remoteAddress) || !/^(localhost|127\.\d+\.\d+\.\d+|\[::1\])(:\d+)?$/.test(request.headers.host ?? '')) return refuse('403 Forbidden');
      return this.hosts.handleUpgrade(request, socket, head, (host) => this.welcomeHost(host));
    }
    if (request.url !== '/pair/guest') return refuse('404 Not Found');
    if (!this.room || this.waiting >= WAITING) return refuse('403 Forbidden');
    this.guests.handleUpgrade(request, socket, head, (guest) => this.welcomeGuest(guest, request.socket.remoteAddress ?? ''));
  }

  // The page that plays

  private welcomeHost(host: WebSocket): void {
    const bucket = new Bucket(LIMITS.hostRate, LIMITS.hostBurst, this.now());
    host.on('error', () => undefined);
    host.on('message', (data) => {
      const message = readHost(String(data));
      if (!message || !bucket.take(this.now())) return;
      switch (message.type) {
        case 'open': return this.open(host);
        case 'close': return this.close(host);
        case 'osc': return void this.osc.set(message.in, message.out).then((problem) => { if (host.readyState === WebSocket.OPEN) say(host, { type: 'osc', in: this.osc.heardAt, out: this.osc.sentTo, problem }); });
        case 'say': return this.osc.send(message.address, message.values);
      }
      if (this.room?.host !== host) return;
      if (message.type === 'dismiss') this.dismiss(message.id);
      else for (const { id, socket } of this.room.guests.values()) if (socket && (message.to === undefined || message.to === id)) sayGuest(socket, { type: 'told', body: message.body as never });
    });
    host.on('close', () => { this.close(host); if (this.hosts.clients.size === 0) void this.osc.set(null, null); });
  }

  /** A room with a code of its own; the page that opened one before loses it. */
  private open(host: WebSocket): void {
    if (this.room && this.room.host !== host) {
      say(this.room.host, { type: 'problem', text: 'Another tab offers the pairing now.' });
      this.close(this.room.host);
    }
    this.room ??= { host, code: '', until: 0, wrong: 0, guests: new Map(), nextId: 1 };
    this.newCode();
  }

  private newCode(): void {
    const { room } = this;
    if (!room) return;
    room.code = Array.from({ length: CODE_SIGNS }, () => SIGNS[randomInt(SIGNS.length)]).join('');
    room.until = this.now() + CODE_MS;
    room.wrong = 0;
    say(room.host, { type: 'room', code: room.code, until: room.until, addresses: (this.options.addresses ?? addressesHere)() });
  }

  private close(host: WebSocket): void {
    if (this.room?.host !== host) return;
    for (const { socket } of this.room.guests.values()) if (socket) refuse(socket, 'the pairing was ended');
    this.room = null;
    this.tries.clear();
  }

  private dismiss(id: number): void {
    const guest = this.room?.guests.get(id);
    if (!guest) return;
    this.room!.guests.delete(id);
    if (guest.socket) refuse(guest.socket, 'this device was sent away');
  }

  private tellHost(message: ToHost): void {
    if (this.room) say(this.room.host, message);
  }

  // Devices

  private welcomeGuest(socket: WebSocket, address: string): void {
    this.waiting++;
    let greeted = false;
    const greet = () => { if (!greeted) { greeted = true; this.waiting--; clearTimeout(patience); } };
    const patience = setTimeout(() => refuse(socket, 'nothing was said'), LIMITS.helloMs);
    socket.on('error', () => undefined);
    socket.on('close', greet);
    socket.once('message', (data) => {
      greet();
      const hello = readHello(String(data));
      const guest = !hello ? 'this was no greeting' : hello.type === 'join' ? this.join(hello.code, hello.name, address) : this.comeBack(hello.token, address);
      if (typeof guest === 'string') return refuse(socket, guest);
      this.seat(guest, socket);
    });
  }

  /** A device with the code; gives why not where it is refused. */
  private join(code: string, name: string, address: string): Guest | string {
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
    if (room.guests.size >= LIMITS.guests) return `${LIMITS.guests} devices are paired: send one away first`;
    const guest: Guest = { id: room.nextId++, name: name.trim().slice(0, 40) || 'device', socket: null, token: Buffer.alloc(0) };
    room.guests.set(guest.id, guest);
    this.newCode();
    return guest;
  }

  /** A device that was here before. */
  private comeBack(token: string, address: string): Guest | string {
    const { room } = this;
    if (!room) return 'nothing is offered';
    if (this.hasTriedTooOften(address)) return 'too many wrong codes: wait a minute';
    const hash = hashOf(token);
    const guest = [...room.guests.values()].find((each) => same(each.token, hash));
    if (guest) return guest;
    this.remember(address);
    return 'this device is not paired any more';
  }

  private seat(guest: Guest, socket: WebSocket): void {
    const before = guest.socket;
    guest.socket = socket;
    if (before) {
      before.removeAllListeners('close');
      refuse(before, 'the device connected anew');
      this.tellHost({ type: 'left', id: guest.id });
    }
    const token = randomBytes(32).toString('base64url');
    guest.token = hashOf(token);
    sayGuest(socket, { type: 'welcome', token });
    this.tellHost({ type: 'joined', id: guest.id, name: guest.name });
    const bucket = new Bucket(LIMITS.guestRate, LIMITS.guestBurst, this.now());
    let dropped = 0;
    socket.on('message', (data) => {
      if (guest.socket !== socket) return;
      if (!bucket.take(this.now())) {
        if (++dropped === LIMITS.flood) { this.room?.guests.delete(guest.id); refuse(socket, 'this device sent too much'); }
        return;
      }
      dropped = Math.max(0, dropped - 1);
      const message = readGuest(String(data));
      if (message) this.tellHost({ type: 'from', id: guest.id, message });
    });
    socket.on('close', () => {
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
    for (const client of [...this.hosts.clients, ...this.guests.clients]) client.terminate();
    this.room = null;
    await this.osc.set(null, null);
  }
}

/** By which the page knows what comes by OSC: no device. */
export const OSC_ID = 0;

const same = (a: Buffer, b: Buffer): boolean => a.length === b.length && a.length > 0 && timingSafeEqual(a, b);
const say = (socket: WebSocket, message: ToHost): void => { if (socket.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message)); };
/** A device that does not keep up misses what is only of the moment. */
const sayGuest = (socket: WebSocket, message: ToGuest): void => { if (socket.readyState === WebSocket.OPEN && (message.type !== 'told' || socket.bufferedAmount < SLOW_BYTES)) socket.send(JSON.stringify(message)); };
const SLOW_BYTES = 512 * 1024;
function refuse(socket: WebSocket, text: string): void {
  sayGuest(socket, { type: 'refused', text });
  socket.close(GOING, text);
}

/** Addresses of this machine on local networks. */
const addressesHere = (): string[] => Object.values(networkInterfaces()).flatMap((list) => (list ?? []).filter(({ family, internal }) => family === 'IPv4' && !internal).map(({ address }) => address));

export type { GuestMessage };
