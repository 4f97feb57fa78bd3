import { PAGE_GONE, type Hello, type ToGuest } from '../../../core/remote/messages';
import { smallOfTab } from '../../document/storage/small';

const KEPT = 'wavicle-spare-of';
const AGAIN_MS = [300, 600, 1000, 2000];
const MOST_WAITING = 32 * 1024 * 1024;

/** Where the other machine is, and the token it has given. */
interface Place {
  address: string;
  port: number;
  token: string;
}
export const keptPlace = (): Place | null => {
  try {
    return JSON.parse(smallOfTab.get(KEPT) ?? 'null') as Place | null;
  } catch {
    return null;
  }
};

/** The line of a spare: by its own server to the room of the other machine. It is tried again until it is given up. */
export class AwayLine {
  onOpen: () => void = () => undefined;
  onHeard: (body: object) => void = () => undefined;
  /** The machine at the other end is there, whatever its page does. */
  onAlive: () => void = () => undefined;
  /** Its page has ended. */
  onGone: () => void = () => undefined;
  /** It is gone; `why`: for good. */
  onLost: (why: string) => void = () => undefined;
  private socket: WebSocket | null = null;
  private tries = 0;
  private again: ReturnType<typeof setTimeout> | undefined;
  private token = '';

  constructor(
    private readonly address: string,
    private readonly port: number,
  ) {}

  join(code: string, name: string): void {
    this.connect({ type: 'join', code, name });
  }

  comeBack(token: string): void {
    this.token = token;
    this.connect({ type: 'return', token });
  }

  private connect(hello: Hello): void {
    clearTimeout(this.again);
    const socket = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/pair/away`);
    this.socket = socket;
    socket.onopen = () => {
      socket.send(JSON.stringify({ type: 'away', address: this.address, port: this.port }));
      socket.send(JSON.stringify(hello));
    };
    socket.onmessage = ({ data }: MessageEvent<string>) => {
      if (this.socket === socket) this.hear(JSON.parse(data) as ToGuest);
    };
    socket.onclose = ({ reason }) => {
      if (this.socket !== socket) return;
      this.socket = null;
      if (this.token === '') return this.onLost(this.refused || reason || 'this machine’s own server leads nowhere');
      this.onLost('');
      if (reason === PAGE_GONE) this.onGone();
      this.again = setTimeout(
        () => this.connect({ type: 'return', token: this.token }),
        AGAIN_MS[Math.min(this.tries++, AGAIN_MS.length - 1)],
      );
    };
  }
  private refused = '';

  private hear(message: ToGuest): void {
    if (message.type === 'alive') this.onAlive();
    else if (message.type === 'welcome') {
      this.token = message.token;
      this.tries = 0;
      smallOfTab.set(KEPT, JSON.stringify({ address: this.address, port: this.port, token: message.token }));
      this.onOpen();
    } else if (message.type === 'refused') {
      this.refused = message.text;
      // All seats are taken for now: it may still come back. Anything else is for good.
      if (!message.later) this.forget();
    } else if (message.body.type === 'link') this.onHeard(message.body.body);
  }

  say(body: object): void {
    const { socket } = this;
    if (socket?.readyState !== WebSocket.OPEN) return;
    // Nothing may be lost: a line that cannot take it begins anew.
    if (socket.bufferedAmount > MOST_WAITING) socket.close();
    else socket.send(JSON.stringify({ type: 'link', body }));
  }

  private forget(): void {
    this.token = '';
    smallOfTab.remove(KEPT);
  }

  end(): void {
    this.forget();
    clearTimeout(this.again);
    const { socket } = this;
    this.socket = null;
    socket?.close();
  }
}
