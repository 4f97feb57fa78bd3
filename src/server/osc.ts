import { createSocket, type Socket } from 'node:dgram';
import { fromBuffer, toBuffer, type OscMessageOutput, type OscPacketOutput } from 'osc-min';
import { Bucket, LIMITS, readGuest, type GuestMessage } from '../core/remote/messages';

interface Place {
  address: string;
  port: number;
}

/** Open Sound Control 1.0 over UDP, in and out; off until it is asked for. Addresses: see docs/osc.md. */
export class Osc {
  heardAt: Place | null = null;
  sentTo: Place | null = null;
  private socket: Socket | null = null;
  private sender: Socket | null = null;
  private bucket = new Bucket(LIMITS.guestRate, LIMITS.guestBurst, Date.now());

  constructor(private readonly hear: (message: GuestMessage) => void) {}

  /** Listens at a place and sends to another; null: not. Gives what went wrong, or an empty text. */
  async set(hear: Place | null, send: Place | null): Promise<string> {
    this.socket?.close();
    this.sender?.close();
    this.socket = this.sender = null;
    this.heardAt = null;
    this.sentTo = send;
    if (send) {
      this.sender = createSocket('udp4');
      this.sender.on('error', () => undefined);
      this.sender.unref();
    }
    if (!hear) return '';
    const socket = createSocket('udp4');
    this.socket = socket;
    return new Promise((resolve) => {
      socket.once('error', (error) => {
        if (this.socket === socket) this.socket = null;
        socket.close();
        resolve(
          `Nothing is heard at ${hear.address}, port ${hear.port}: ${(error as NodeJS.ErrnoException).code === 'EADDRINUSE' ? 'the port is in use' : error.message}.`,
        );
      });
      socket.bind(hear.port, hear.address, () => {
        socket.removeAllListeners('error');
        socket.on('error', () => undefined);
        this.heardAt = { address: hear.address, port: socket.address().port };
        resolve('');
      });
      socket.on('message', (bytes) => this.take(bytes));
    });
  }

  private take(bytes: Buffer): void {
    if (bytes.length > LARGEST || !this.bucket.take(Date.now())) return;
    let packet: OscPacketOutput;
    try {
      packet = fromBuffer(bytes);
    } catch {
      return;
    }
    for (const [i, message] of messagesIn(packet, 0).entries()) {
      // Each message counts, however many come in one datagram.
      if (i > 0 && !this.bucket.take(Date.now())) return;
      const meant = meaningOf(message);
      if (meant) this.hear(meant);
    }
  }

  send(address: string, values: readonly (number | string)[]): void {
    const { sender, sentTo } = this;
    if (!sender || !sentTo) return;
    const args = values.map((value) =>
      typeof value === 'string'
        ? { type: 'string' as const, value }
        : Number.isInteger(value)
          ? { type: 'integer' as const, value }
          : { type: 'float' as const, value },
    );
    const view = toBuffer({ address, args });
    sender.send(
      new Uint8Array(view.buffer, view.byteOffset, view.byteLength),
      sentTo.port,
      sentTo.address,
      () => undefined,
    );
  }
}

const LARGEST = 2048;
const DEEPEST = 4;

function messagesIn(packet: OscPacketOutput, depth: number): OscMessageOutput[] {
  if (packet.oscType === 'message') return [packet];
  return depth >= DEEPEST ? [] : packet.elements.slice(0, 64).flatMap((element) => messagesIn(element, depth + 1));
}

/** What a message asks for, in the words of paired devices; it passes the same check. */
function meaningOf({ address, args }: OscMessageOutput): GuestMessage | undefined {
  const values = args.map((arg) => ('value' in arg ? arg.value : undefined));
  const [, root, what, number] = address.split('/');
  if (root !== 'wavicle') return undefined;
  const message =
    what === 'macro'
      ? { type: 'macro', number: Number(number), value: values[0] }
      : what === 'xy'
        ? { type: 'xy', number: Number(number), x: values[0], y: values[1], letGo: values[2] === 0 }
        : what === 'step'
          ? { type: 'go', place: Number(values[0]) - 1 }
          : what === 'next' || what === 'previous' || what === 'silence'
            ? values[0] === 0
              ? undefined
              : { type: what }
            : undefined;
  return message && readGuest(JSON.stringify(message));
}
