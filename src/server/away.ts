import { WebSocket, type RawData } from 'ws';
import { LIMITS, readAway } from '../core/remote/messages';

/** How long a page may take to say where it wants to go, and how long the other machine may take to answer. */
const PATIENCE_MS = 5000;
const MOST_WAITING = 32 * 1024 * 1024;
const GOING = 1008;

/**
 * Leads a page of this machine to the room of another in the same network, for browsers let pages make sound that come from
 * their own machine alone. First the page says where; then what either says goes to the other, as it is. The other machine
 * asks for its code, or for the token it has given.
 */
export function leadAway(page: WebSocket): void {
  let there: WebSocket | null = null;
  const end = (why: string) => {
    page.close(GOING, why);
    there?.close();
  };
  const patience = setTimeout(() => end('nobody answered there'), PATIENCE_MS);
  page.on('error', () => undefined);
  page.on('close', () => {
    clearTimeout(patience);
    there?.terminate();
  });
  const waiting: string[] = [];
  page.on('message', (data) => {
    const text = String(data);
    if (!there) {
      const away = readAway(text);
      if (!away) return end('this is no address of this network');
      there = goTo(away.address, away.port);
      there.on('open', () => {
        clearTimeout(patience);
        for (const said of waiting.splice(0)) there!.send(said);
      });
      there.on('message', (heard: RawData) => {
        if (page.readyState !== WebSocket.OPEN) return;
        if (page.bufferedAmount > MOST_WAITING) end('this page is too slow');
        else page.send(String(heard));
      });
      there.on('error', () => undefined);
      there.on('close', (_code, why) => page.close(GOING, String(why) || 'nothing is offered there'));
      return;
    }
    if (there.readyState === WebSocket.OPEN) there.send(text);
    // A greeting may come before the way is open.
    else if (waiting.length < 4) waiting.push(text);
  });
}

const goTo = (address: string, port: number): WebSocket =>
  new WebSocket(`ws://${address}:${port}/pair/spare`, {
    origin: `http://${address}:${port}`,
    maxPayload: LIMITS.hostBytes + 1024,
    handshakeTimeout: PATIENCE_MS,
    followRedirects: false,
  });
