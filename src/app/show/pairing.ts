import type { GuestMessage, HostMessage, LiveState, Seat, ToHost, ToldGuest } from '../../core/remote/messages';
import { METER } from '../../host/protocol';
import { dotNow, sourceNow } from '../sound/live';
import { OFFERED } from './offered';
import { session } from '../sound/session';
import { show } from './show';
import { stageState } from './stageState';
import { store } from '../document/store';
import { small, smallOfTab } from '../document/storage/small';

export interface Device {
  id: number;
  name: string;
  latency: number | null;
}
interface Place {
  address: string;
  port: number;
}
export interface OscState {
  in: Place | null;
  out: Place | null;
  problem: string;
}

const LIVE_MS = 50;
const LOST = 'wavicle-pairing-lost';
/** Waits before a lost server is asked again, in ms, longer each time. */
const AGAIN_MS = [300, 1000, 2000, 4000];
/** What this tab offers: it offers it again to a server that was started anew, or when it is loaded anew itself. */
interface Offered {
  seats: Seat[];
  hear: Place | null;
  send: Place | null;
}
const readOffered = (): Offered | null => {
  try {
    return JSON.parse(smallOfTab.get(OFFERED) ?? 'null') as Offered | null;
  } catch {
    return null;
  }
};

/**
 * Paired devices as the page that plays has them: what they ask for is done, what they see is told. Nothing is open
 * until it is asked for.
 */
class PairingHost {
  /** `lost`: it was open, and is opened again as soon as the server answers. */
  state: 'off' | 'opening' | 'open' | 'lost' = 'off';
  problem = '';
  room: { code: string; until: number; addresses: string[] } | null = null;
  devices: readonly Device[] = [];
  osc: OscState = { in: null, out: null, problem: '' };
  /** What becomes of what a device held that is lost: back to rest, or it stays. */
  lost: 'rest' | 'stay' = small.get(LOST) === 'stay' ? 'stay' : 'rest';
  private socket: WebSocket | null = null;
  private offered: Offered | null = null;
  private tries = 0;
  private again: ReturnType<typeof setTimeout> | undefined;
  private timer: ReturnType<typeof setInterval> | undefined;
  /** By device, what it has moved of the patch that plays. */
  private readonly held = new Map<number, Set<string>>();
  private heldOf: string | undefined;
  private toldStage = '';
  private toldLive = '';
  private readonly listeners = new Set<() => void>();
  private readonly saidMacros = new Map<number, number>();
  private unfollow: () => void = () => undefined;

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  open(): void {
    if (this.socket) return;
    this.offered ??= { seats: [], hear: null, send: null };
    this.change({ state: 'opening', problem: '' });
    this.connect();
  }

  /** Offers again what this tab offered before it was loaded anew. */
  resume(): void {
    this.offered = readOffered();
    if (this.offered) this.lose();
  }

  private connect(): void {
    clearTimeout(this.again);
    const socket = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/pair/host`);
    this.socket = socket;
    socket.onopen = () => {
      if (this.socket !== socket || !this.offered) return;
      const { seats, hear, send } = this.offered;
      this.tries = 0;
      this.change({ state: 'open', problem: '' });
      this.say(seats.length > 0 ? { type: 'open', seats } : { type: 'open' });
      if (hear || send) this.say({ type: 'osc', in: hear, out: send });
      this.begin();
    };
    socket.onmessage = ({ data }: MessageEvent<string>) => {
      if (this.socket === socket) this.hear(JSON.parse(data) as ToHost);
    };
    socket.onclose = () => {
      if (this.socket !== socket) return;
      if (this.state !== 'opening') return this.lose();
      this.end();
      this.change({
        problem: 'The server offers no pairing to this page: open it on the machine that serves it, at localhost.',
      });
    };
  }

  /** The server is gone: it is asked until it answers, for the room with the devices that were in it. */
  private lose(): void {
    const { offered } = this;
    this.end();
    this.offered = offered;
    this.keep();
    this.change({
      state: 'lost',
      problem:
        'The connection to the server is gone; playing goes on without devices. It is opened again as soon as the server answers, with the same devices.',
    });
    this.again = setTimeout(() => this.connect(), AGAIN_MS[Math.min(this.tries++, AGAIN_MS.length - 1)]);
  }

  close(): void {
    this.say({ type: 'close' });
    const { socket } = this;
    this.end();
    socket?.close();
    this.change({ problem: '' });
  }

  private keep(): void {
    if (this.offered) smallOfTab.set(OFFERED, JSON.stringify(this.offered));
    else smallOfTab.remove(OFFERED);
  }

  setLost(lost: 'rest' | 'stay'): void {
    small.set(LOST, lost);
    this.change({ lost });
  }

  dismiss(id: number): void {
    this.say({ type: 'dismiss', id });
    this.leave(id);
  }

  setOsc(hear: Place | null, send: Place | null): void {
    this.saidMacros.clear();
    if (this.offered) Object.assign(this.offered, { hear, send });
    this.keep();
    this.say({ type: 'osc', in: hear, out: send });
  }

  private begin(): void {
    this.unfollow();
    // A change of step is told once, when all of it has happened.
    let due = false;
    const soon = () => {
      if (!due) {
        due = true;
        queueMicrotask(() => {
          due = false;
          this.tellStage();
        });
      }
    };
    const stops = [store.subscribe(soon), session.subscribe(soon)];
    this.unfollow = () => {
      for (const stop of stops) stop();
    };
    clearInterval(this.timer);
    this.timer = setInterval(() => this.tellLive(), LIVE_MS);
  }

  private end(): void {
    this.socket = null;
    this.offered = null;
    this.keep();
    clearTimeout(this.again);
    clearInterval(this.timer);
    this.unfollow();
    for (const { id } of this.devices) {
      this.letGo(id);
      this.ofSpare(id, (spare) => spare.left(id));
    }
    this.held.clear();
    this.toldStage = this.toldLive = '';
    this.change({ state: 'off', room: null, devices: [], osc: { in: null, out: null, problem: '' } });
  }

  private hear(message: ToHost): void {
    switch (message.type) {
      case 'gone':
        this.seat(message.id);
        break;
      case 'room':
        this.keep();
        this.change({ room: { code: message.code, until: message.until, addresses: message.addresses } });
        break;
      case 'joined':
        this.seat(message.id, {
          id: message.id,
          name: message.name,
          tokens: message.tokens,
          ...(message.spare ? { spare: true } : {}),
        });
        if (message.spare) {
          const { id, name } = message;
          this.spares.add(id);
          this.ofSpare(id, (spare) =>
            spare.joined(
              id,
              name,
              (body) => this.say({ type: 'tell', to: id, body: { type: 'link', body } }),
              () => this.dismiss(id),
            ),
          );
        }
        this.change({
          devices: [
            ...this.devices.filter(({ id }) => id !== message.id),
            { id: message.id, name: message.name, latency: null },
          ],
        });
        this.toldStage = this.toldLive = '';
        this.tellStage();
        break;
      case 'left':
        this.leave(message.id);
        this.ofSpare(message.id, (spare) => spare.left(message.id));
        break;
      case 'from': {
        const { id, message: said } = message;
        if (said.type === 'link') this.ofSpare(id, (spare) => spare.hear(said.body));
        else this.act(id, said);
        break;
      }
      case 'osc':
        this.change({ osc: { in: message.in, out: message.out, problem: message.problem } });
        break;
      // Another tab has the devices now.
      case 'problem': {
        const { socket } = this;
        this.end();
        socket?.close();
        this.change({ problem: message.text });
      }
    }
  }

  /** Devices that came as a second machine; what they say is for it, in its order. */
  private readonly spares = new Set<number>();
  private ofSpare(id: number, act: (spare: typeof import('./spare/spare').spare) => void): void {
    if (this.spares.has(id)) void import('./spare/spare').then(({ spare }) => act(spare));
  }

  /** Keeps what lets a device in again, or forgets it. */
  private seat(id: number, seat?: Seat): void {
    if (!this.offered) return;
    this.offered.seats = this.offered.seats.filter((each) => each.id !== id);
    if (seat) this.offered.seats.push(seat);
    this.keep();
  }

  /** What a device, or OSC, asks for. */
  private act(id: number, message: GuestMessage): void {
    const patch = session.shown;
    // What was held of another patch rests where that one's does not matter any more.
    if (patch?.id !== this.heldOf) this.held.clear();
    this.heldOf = patch?.id;
    const holds = (what: string) => {
      if (!this.held.has(id)) this.held.set(id, new Set());
      this.held.get(id)!.add(what);
    };
    switch (message.type) {
      case 'macro':
        if (!patch?.macros.some(({ number }) => number === message.number)) return;
        holds(`macro.${message.number}`);
        return session.moveLive(`macro.${message.number}`, message.value);
      case 'xy':
        if (!patch?.xyPads.some(({ number }) => number === message.number)) return;
        holds(`xy.${message.number}`);
        return session.play({ type: 'xy', number: message.number, x: message.x, y: message.y, letGo: message.letGo });
      case 'rest':
        return session.play({ type: 'rest', kind: message.kind, number: message.number });
      case 'go':
        return show.goTo(message.place);
      case 'next':
        return show.next();
      case 'previous':
        return show.previous();
      case 'silence':
        return session.panic();
      case 'ping':
        this.devices = this.devices.map((device) =>
          device.id === id ? { ...device, latency: message.latency } : device,
        );
        this.tellAll({ type: 'pong', at: message.at }, id);
        this.tell();
    }
  }

  private leave(id: number): void {
    this.letGo(id);
    this.change({ devices: this.devices.filter((device) => device.id !== id) });
  }

  /** What a lost device held goes back to rest, or stays where it is; a finger that was down has left either way. */
  private letGo(id: number): void {
    const patch = session.shown;
    for (const what of patch?.id === this.heldOf ? (this.held.get(id) ?? []) : []) {
      const [kind, text] = what.split('.');
      const number = Number(text);
      if (this.lost === 'rest') session.play({ type: 'rest', kind: kind as 'macro' | 'xy', number });
      else if (kind === 'xy')
        session.play({
          type: 'xy',
          number,
          x: session.liveOf(`xy.${number}.x`) ?? 0.5,
          y: session.liveOf(`xy.${number}.y`) ?? 0.5,
          letGo: true,
        });
      else if (patch?.macros.find((macro) => macro.number === number)?.style === 'momentary') session.moveLive(what, 0);
    }
    this.held.delete(id);
  }

  private tellStage(): void {
    const {
      rig: { rig },
      show: { stepId },
    } = store.getState();
    if (!rig || this.state !== 'open' || (this.devices.length === 0 && !this.osc.out)) return;
    const stage = stageState(rig, stepId, session.shown);
    const text = JSON.stringify(stage);
    if (!stage || text === this.toldStage) return;
    this.toldStage = text;
    this.saidMacros.clear();
    this.tellAll({ type: 'stage', stage });
    this.sayOsc('/wavicle/stage', [stage.title, stage.place + 1, stage.next]);
  }

  private tellLive(): void {
    const patch = session.shown;
    if (!patch || (this.devices.length === 0 && !this.osc.out)) return;
    const round = (x: number) => Math.round(x * 1000) / 1000;
    const live: LiveState = {
      macros: patch.macros.map(({ number }) =>
        round(sourceNow(`macro.${number}`) ?? session.liveOf(`macro.${number}`) ?? 0),
      ),
      dots: patch.xyPads.flatMap(({ number }, n) => {
        const { x, y } = dotNow(n, number);
        return [round(x), round(y)];
      }),
      level: round(Math.max(session.audio.meters[METER.left], session.audio.meters[METER.right])),
    };
    const text = JSON.stringify(live);
    if (text === this.toldLive) return;
    this.toldLive = text;
    this.tellAll({ type: 'live', live });
    patch.macros.forEach(({ number }, i) => {
      if (this.saidMacros.get(number) === live.macros[i]) return;
      this.saidMacros.set(number, live.macros[i]);
      this.sayOsc(`/wavicle/macro/${number}`, [live.macros[i]]);
    });
  }

  private tellAll(body: ToldGuest, to?: number): void {
    if (this.devices.length > 0) this.say({ type: 'tell', to, body });
  }

  private sayOsc(address: string, values: (number | string)[]): void {
    if (this.osc.out)
      this.say({
        type: 'say',
        address,
        values: values.map((value) => (typeof value === 'string' ? value.slice(0, 200) : value)),
      });
  }

  private say(message: HostMessage): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(message));
  }

  private change(to: Partial<Pick<PairingHost, 'state' | 'problem' | 'room' | 'devices' | 'osc' | 'lost'>>): void {
    Object.assign(this, to);
    this.tell();
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

export const pairing = new PairingHost();
