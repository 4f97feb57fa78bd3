import type { GuestMessage, Hello, LiveState, StageState, ToGuest } from '../../core/remote/messages';
import { smallOfTab } from '../document/storage/small';

const TOKEN = 'wavicle-paired';
const PING_MS = 1000;
/** Waits before it tries again, longer each time. */
const AGAIN_MS = [300, 1000, 2000, 4000];
/** An answer that takes longer than this means that nobody is there. */
const SILENT_MS = 5000;
/** A finger tells where it is so often at the most. */
const MOVES_MS = 16;

/** The line from a paired device to the page that plays. */
export class Connection {
  state: 'out' | 'joining' | 'in' | 'lost' = 'out';
  problem = '';
  stage: StageState | null = null;
  live: LiveState = { macros: [], dots: [], level: 0 };
  latency: number | null = null;
  private socket: WebSocket | null = null;
  private tries = 0;
  private lastPong = 0;
  private timer: ReturnType<typeof setInterval> | undefined;
  private again: ReturnType<typeof setTimeout> | undefined;
  private readonly waiting = new Map<string, GuestMessage>();
  private sendingAt = 0;
  /** What fingers hold here: they know better than what comes back. */
  readonly touched = new Map<string, { value: number; until: number }>();
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Goes on where this device was paired before. Gives whether it was. */
  resume(): boolean {
    const token = smallOfTab.get(TOKEN);
    if (!token) return false;
    this.connect({ type: 'return', token });
    return true;
  }

  join(code: string, name: string): void {
    this.tries = 0;
    this.connect({ type: 'join', code, name });
  }

  leave(): void {
    smallOfTab.remove(TOKEN);
    this.change({ state: 'out', stage: null, problem: '' });
    this.socket?.close();
    this.socket = null;
  }

  private connect(hello: Hello): void {
    clearTimeout(this.again);
    this.socket?.close();
    const socket = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/pair/guest`);
    this.socket = socket;
    if (this.state === 'out') this.change({ state: 'joining', problem: '' });
    socket.onopen = () => socket.send(JSON.stringify(hello));
    socket.onmessage = ({ data }: MessageEvent<string>) => {
      if (this.socket === socket) this.hear(JSON.parse(data) as ToGuest);
    };
    socket.onclose = () => {
      if (this.socket === socket) this.closed(hello.type === 'join');
    };
  }

  private closed(joined: boolean): void {
    this.socket = null;
    clearInterval(this.timer);
    const token = smallOfTab.get(TOKEN);
    if (!token || this.state === 'out') {
      if (this.state === 'joining')
        this.change({
          state: 'out',
          problem:
            this.problem ||
            (joined ? 'Nothing is offered there: ask for pairing on the Stage of the machine that plays.' : ''),
        });
      return;
    }
    this.change({ state: 'lost' });
    this.again = setTimeout(
      () => this.connect({ type: 'return', token }),
      AGAIN_MS[Math.min(this.tries++, AGAIN_MS.length - 1)],
    );
  }

  private hear(message: ToGuest): void {
    if (message.type === 'refused') {
      // All seats are taken for now: this device may still come back.
      if (message.later && smallOfTab.get(TOKEN)) {
        this.change({ state: 'lost', problem: message.text });
        return;
      }
      // The code, or this device, is not wanted: trying again would not help.
      smallOfTab.remove(TOKEN);
      this.change({ state: 'out', problem: message.text, stage: null });
      return;
    }
    if (message.type === 'welcome') {
      smallOfTab.set(TOKEN, message.token);
      this.tries = 0;
      this.lastPong = performance.now();
      this.change({ state: 'in', problem: '' });
      clearInterval(this.timer);
      this.timer = setInterval(() => this.ping(), PING_MS);
      this.ping();
      return;
    }
    if (message.type !== 'told') return;
    const { body } = message;
    if (body.type === 'stage') this.change({ stage: body.stage });
    else if (body.type === 'live') this.live = body.live;
    else if (body.type === 'pong') {
      this.lastPong = performance.now();
      this.change({ latency: Math.max(0, this.lastPong - body.at) });
    }
  }

  private ping(): void {
    if (performance.now() - this.lastPong > SILENT_MS) {
      this.socket?.close();
      return;
    }
    this.sendNow({ type: 'ping', at: performance.now(), latency: this.latency ?? 0 });
  }

  /** Moves are thinned to what the line takes, the last one always goes out; everything else goes at once. */
  send(message: GuestMessage): void {
    if (message.type === 'macro' || (message.type === 'xy' && !message.letGo)) {
      this.waiting.set(`${message.type} ${message.number}`, message);
      const now = performance.now();
      if (now >= this.sendingAt) this.flush();
      else setTimeout(() => this.flush(), this.sendingAt - now);
      return;
    }
    this.flush();
    this.sendNow(message);
  }

  private flush(): void {
    for (const message of this.waiting.values()) this.sendNow(message);
    if (this.waiting.size > 0) this.sendingAt = performance.now() + MOVES_MS;
    this.waiting.clear();
  }

  private sendNow(message: GuestMessage): void {
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(message));
  }

  /** Where something stands: as a finger here has it, for a moment after it has moved it; else as it comes back. */
  valueOf(what: string, told: number): number {
    const touched = this.touched.get(what);
    if (touched && performance.now() < touched.until) return touched.value;
    return told;
  }

  touch(what: string, value: number): void {
    this.touched.set(what, { value, until: performance.now() + Math.max(250, 2 * (this.latency ?? 0)) });
  }

  private change(to: Partial<Pick<Connection, 'state' | 'problem' | 'stage' | 'latency'>>): void {
    Object.assign(this, to);
    for (const listener of this.listeners) listener();
  }
}
