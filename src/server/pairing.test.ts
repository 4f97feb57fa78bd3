import { createHash } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import { createSocket } from 'node:dgram';
import type { AddressInfo } from 'node:net';
import { fromBuffer, toBuffer } from 'osc-min';
import { WebSocket } from 'ws';
import { LIMITS, type HostMessage, type ToGuest, type ToHost } from '../core/remote/messages';
import { Pairing } from './pairing';

let server: Server;
let pairing: Pairing;
let port: number;
let now = 1e12;
const open: WebSocket[] = [];

const fresh = async () => {
  const made = createServer();
  await new Promise<void>((resolve) => {
    made.listen(0, '127.0.0.1', resolve);
  });
  return made;
};
beforeEach(async () => {
  now = 1e12;
  server = await fresh();
  pairing = new Pairing(server, { now: () => now, addresses: () => ['10.1.2.3'] });
  port = (server.address() as AddressInfo).port;
});
afterEach(async () => {
  for (const socket of open.splice(0)) socket.terminate();
  await pairing.end();
  await new Promise((resolve) => {
    server.close(resolve);
    server.closeAllConnections();
  });
});

interface Line<T> {
  socket: WebSocket;
  heard: T[];
  say: (message: object | string) => void;
  next: (type: string) => Promise<T & Record<string, never>>;
  closed: Promise<number>;
}
function connect<T extends { type: string }>(
  path: string,
  origin = `http://127.0.0.1:${port}`,
  localAddress?: string,
): Promise<Line<T>> {
  const socket = new WebSocket(`ws://127.0.0.1:${port}${path}`, { origin, localAddress });
  open.push(socket);
  const heard: T[] = [];
  const waiting: { type: string; resolve: (message: T) => void }[] = [];
  socket.on('message', (data) => {
    const message = JSON.parse(String(data)) as T;
    const at = waiting.findIndex(({ type }) => type === message.type);
    if (at >= 0) waiting.splice(at, 1)[0].resolve(message);
    else heard.push(message);
  });
  const closed = new Promise<number>((resolve) => socket.on('close', resolve));
  const line: Line<T> = {
    socket,
    heard,
    closed,
    say: (message) => socket.send(typeof message === 'string' ? message : JSON.stringify(message)),
    next: (type) =>
      new Promise((resolve) => {
        const at = heard.findIndex((message) => message.type === type);
        if (at >= 0) resolve(heard.splice(at, 1)[0] as never);
        else waiting.push({ type, resolve: resolve as never });
      }),
  };
  return new Promise((resolve, reject) => {
    socket.on('open', () => resolve(line));
    socket.on('error', reject);
  });
}
/**
 * Until the server has dealt with all that was said before, and what it answered has arrived: its pong comes after both
 * (RFC 6455, 5.5.3, on one ordered stream).
 */
const settled = ({ socket }: Pick<Line<never>, 'socket'>) =>
  new Promise<void>((resolve) => {
    socket.once('pong', () => resolve());
    socket.ping();
  });
const host = () => connect<ToHost>('/pair/host');
const guest = (from?: string) => connect<ToGuest>('/pair/guest', undefined, from);
const connections = () =>
  new Promise<number>((resolve) => {
    server.getConnections((_, count) => resolve(count));
  });
async function room() {
  const page = await host();
  page.say({ type: 'open' } satisfies HostMessage);
  const { code, until, addresses } = (await page.next('room')) as unknown as Extract<ToHost, { type: 'room' }>;
  return { page, code, until, addresses };
}
async function paired() {
  const { page, code } = await room();
  const device = await guest();
  device.say({ type: 'join', code, name: 'tablet' });
  const { token } = (await device.next('welcome')) as unknown as { token: string };
  const { id } = (await page.next('joined')) as unknown as { id: number };
  return { page, device, token, id, code };
}

describe('who gets in', () => {
  test('nobody while nothing is offered, nor after it has ended', async () => {
    await expect(guest()).rejects.toThrow('403');
    const { page, device } = await paired();
    page.say({ type: 'close' });
    expect(await device.closed).toBe(1008);
    await expect(guest()).rejects.toThrow('403');
  });
  test('no page of another server, neither as the page that plays nor as a device', async () => {
    await room();
    for (const path of ['/pair/host', '/pair/guest'])
      await expect(connect(path, 'http://elsewhere.test')).rejects.toThrow('403');
    await expect(connect('/pair/other')).rejects.toThrow('404');
  });
  test('a device with the code, which serves once', async () => {
    const { device, page, code } = await paired();
    const other = await guest();
    other.say({ type: 'join', code, name: 'phone' });
    expect(await other.next('refused')).toMatchObject({ text: 'this is not the code that the page shows' });
    expect(await other.closed).toBe(1008);
    // Another one is shown by then.
    const { code: fresh } = (await page.next('room')) as unknown as { code: string };
    expect(fresh).not.toBe(code);
    expect(device.socket.readyState).toBe(WebSocket.OPEN);
  });
  test('a code as people type it, and none that is too old', async () => {
    const { page, code } = await room();
    const typed = await guest();
    typed.say({ type: 'join', code: `${code.slice(0, 4)}-${code.slice(4)}`.toLowerCase(), name: '' });
    await typed.next('welcome');
    const { code: second, until } = (await page.next('room')) as unknown as { code: string; until: number };
    now = until + 1;
    const late = await guest();
    late.say({ type: 'join', code: second, name: '' });
    expect(await late.next('refused')).toMatchObject({ text: expect.stringContaining('too old') as unknown });
  });
  test('nobody who guesses: five tries a minute, and after twenty wrong ones another code', async () => {
    const { page } = await room();
    const answers: string[] = [];
    for (let n = 0; n < 7; n++) {
      const wrong = await guest();
      wrong.say({ type: 'join', code: 'AAAAAAAA', name: '' });
      answers.push(((await wrong.next('refused')) as unknown as { text: string }).text);
    }
    expect(answers.slice(0, 5)).toEqual(Array(5).fill('this is not the code that the page shows'));
    expect(answers.slice(5).every((text) => text.includes('too many'))).toBe(true);
    for (let minute = 0; minute < 3; minute++) {
      now += 61_000;
      for (let n = 0; n < 5; n++) {
        const wrong = await guest();
        wrong.say({ type: 'join', code: 'AAAAAAAA', name: '' });
        await wrong.next('refused');
      }
    }
    expect(page.heard.filter(({ type }) => type === 'room')).toHaveLength(1);
  });
  test('nobody who says nothing, or something else first', async () => {
    await room();
    const babbler = await guest();
    babbler.say({ type: 'macro', number: 1, value: 1 });
    expect(await babbler.next('refused')).toMatchObject({ text: 'this was no greeting' });
  });
  test('a token holds until the one that was given for it was used: then it is refused', async () => {
    const { page, device, token, id } = await paired();
    const leave = async (socket: WebSocket) => {
      socket.close();
      expect(await page.next('left')).toMatchObject({ id });
    };
    const comeBack = async (with_: string) => {
      const back = await guest();
      back.say({ type: 'return', token: with_ });
      const { token: fresh } = (await back.next('welcome')) as unknown as { token: string };
      expect(await page.next('joined')).toMatchObject({ id });
      return { back, fresh };
    };
    await leave(device.socket);
    // The line breaks before the new token arrives.
    const { back: broken, fresh: lost } = await comeBack(token);
    expect(lost).not.toBe(token);
    await leave(broken.socket);
    const { back, fresh } = await comeBack(token);
    await leave(back.socket);
    const { back: now } = await comeBack(fresh);
    for (const old of [token, lost]) {
      const thief = await guest();
      thief.say({ type: 'return', token: old });
      expect(await thief.next('refused')).toMatchObject({ text: 'this device is not paired any more' });
    }
    expect(now.socket.readyState).toBe(WebSocket.OPEN);
  });
  /** So many devices in a room. */
  async function full(count: number) {
    const { page, code: first } = await room();
    let code = first;
    const devices: { line: Line<ToGuest>; token: string; id: number }[] = [];
    for (let n = 0; n < count; n++) {
      const line = await guest();
      line.say({ type: 'join', code, name: `d${n}` });
      const { token } = (await line.next('welcome')) as unknown as { token: string };
      const { id } = (await page.next('joined')) as unknown as { id: number };
      devices.push({ line, token, id });
      ({ code } = (await page.next('room')) as unknown as { code: string });
    }
    return { page, devices, code };
  }
  test('eight devices and no more; one that was sent away cannot come back', async () => {
    const { page, devices, code } = await full(LIMITS.guests);
    const ninth = await guest();
    ninth.say({ type: 'join', code, name: 'late' });
    expect(await ninth.next('refused')).toMatchObject({ text: expect.stringContaining('8 devices') as unknown });
    page.say({ type: 'dismiss', id: devices[0].id });
    expect(await page.next('gone')).toMatchObject({ id: devices[0].id });
    const again = await guest();
    again.say({ type: 'return', token: devices[0].token });
    expect(await again.next('refused')).not.toHaveProperty('later');
  });
  test('eight that came and went leave room for a ninth; who comes back to a full room is told to try later', async () => {
    const { page, devices, code } = await full(LIMITS.guests);
    devices[0].line.socket.close();
    await page.next('left');
    const ninth = await guest();
    ninth.say({ type: 'join', code, name: 'late' });
    await ninth.next('welcome');
    await page.next('joined');
    const again = await guest();
    again.say({ type: 'return', token: devices[0].token });
    expect(await again.next('refused')).toMatchObject({ later: true });
    ninth.socket.close();
    await page.next('left');
    const later = await guest();
    later.say({ type: 'return', token: devices[0].token });
    await later.next('welcome');
    expect(await page.next('joined')).toMatchObject({ id: devices[0].id });
  });
  test('of those that are away no more are remembered than there is room for', async () => {
    const { page, code: first } = await room();
    let code = first;
    for (let n = 0; n < LIMITS.absent + 3; n++) {
      const line = await guest();
      line.say({ type: 'join', code, name: `d${n}` });
      await page.next('joined');
      ({ code } = (await page.next('room')) as unknown as { code: string });
      line.socket.close();
      await page.next('left');
    }
    expect(page.heard.filter(({ type }) => type === 'gone')).toEqual([
      { type: 'gone', id: 1 },
      { type: 'gone', id: 2 },
    ]);
  });
  test('silent connections keep nobody out: each address has its share, and who has not spoken for a second gives way', async () => {
    const { page, code } = await room();
    for (let n = 0; n < 4; n++) await guest('127.0.0.2');
    await expect(guest('127.0.0.2')).rejects.toThrow('403');
    for (const address of ['127.0.0.3', '127.0.0.4', '127.0.0.5']) for (let n = 0; n < 4; n++) await guest(address);
    await expect(guest()).rejects.toThrow('403');
    now += 1000;
    const device = await guest();
    device.say({ type: 'join', code, name: 'tablet' });
    await device.next('welcome');
    await page.next('joined');
    expect(
      await (open[1] &&
        new Promise<number>((resolve) => {
          if (open[1].readyState === WebSocket.CLOSED) resolve(1008);
          else open[1].on('close', resolve);
        })),
    ).toBe(1008);
  });
  test('one that is refused and does not close is cut', async () => {
    await room();
    const rude = await guest();
    // Nothing is read, so that no closing frame is answered.
    rude.socket.pause();
    rude.say({ type: 'join', code: 'AAAAAAAA', name: '' });
    for (let n = 0; n < 100 && (await connections()) > 1; n++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(await connections()).toBe(1);
  });
  test('one that says nothing any more is taken as lost, and its seat is free', async () => {
    await pairing.end();
    server.close();
    server = await fresh();
    pairing = new Pairing(server, { now: () => now, addresses: () => [], silentMs: 60 });
    port = (server.address() as AddressInfo).port;
    const { page, id } = await paired();
    expect(await page.next('left')).toMatchObject({ id });
  });
  test('a server that was started anew lets in whom the page names, with their tokens; a page that has gone comes back to them', async () => {
    const { page, device, token, id } = await paired();
    page.socket.close();
    // No refusal: it keeps its token and tries again.
    await device.closed;
    expect(device.heard.filter(({ type }) => type === 'refused')).toEqual([]);
    await expect(guest()).rejects.toThrow('403');
    const hash = createHash('sha256').update(token).digest('base64url');
    const anew = await host();
    anew.say({ type: 'open', seats: [{ id, name: 'tablet', tokens: [hash] }] });
    const { code } = (await anew.next('room')) as unknown as { code: string };
    const back = await guest();
    back.say({ type: 'return', token });
    await back.next('welcome');
    expect(await anew.next('joined')).toMatchObject({
      id,
      name: 'tablet',
      tokens: [hash, expect.any(String) as string],
    });
    const other = await guest();
    other.say({ type: 'join', code, name: 'phone' });
    expect(await anew.next('joined')).toMatchObject({ id: id + 1, name: 'phone' });
  });
  test.each([
    [{ id: 0, name: '', tokens: ['x'.repeat(43)] }],
    [{ id: 1, name: '', tokens: [] }],
    [{ id: 1, name: '', tokens: ['short'] }],
    [{ id: 1, name: 5, tokens: ['x'.repeat(43)] }],
    [{ id: 1 }],
  ])('no seat like %j', async (seat) => {
    const page = await host();
    page.say({ type: 'open', seats: [seat] });
    page.say({ type: 'open' });
    await page.next('room');
    expect(page.heard).toEqual([]);
  });
});

describe('what is passed on', () => {
  test('what a device asks for, to the page alone; what the page tells, to all or to one', async () => {
    const { page, device, id } = await paired();
    device.say({ type: 'xy', number: 1, x: 0.25, y: 1, letGo: false });
    expect(await page.next('from')).toMatchObject({
      id,
      message: { type: 'xy', number: 1, x: 0.25, y: 1, letGo: false },
    });
    page.say({ type: 'tell', body: { type: 'pong', at: 5 } });
    expect(await device.next('told')).toMatchObject({ body: { type: 'pong', at: 5 } });
    page.say({ type: 'tell', to: id + 1, body: { type: 'pong', at: 6 } });
    page.say({ type: 'tell', to: id, body: { type: 'pong', at: 7 } });
    expect(await device.next('told')).toMatchObject({ body: { at: 7 } });
  });
  test.each([
    ['{', 'no JSON'],
    ['null', 'nothing'],
    ['{"type":"macro","number":1,"value":1.5}', 'out of range'],
    ['{"type":"macro","number":"1","value":0.5}', 'a text for a number'],
    ['{"type":"macro","number":17,"value":0}', 'no such macro'],
    ['{"type":"macro","number":1,"value":0.5,"more":1}', 'more than there is'],
    ['{"type":"constructor"}', 'a name of the language'],
    ['{"type":"tell","body":{}}', 'what only the page may say'],
    ['{"type":"go","place":-1}', 'before the first'],
    ['{"type":"macro","number":1,"value":null}', 'no value'],
  ])('not %s (%s)', async (text) => {
    const { page, device } = await paired();
    device.say(text);
    device.say({ type: 'next' });
    expect(await page.next('from')).toMatchObject({ message: { type: 'next' } });
  });
  test('nothing that is too long: the device is cut off', async () => {
    const { page, device, id } = await paired();
    device.say(JSON.stringify({ type: 'next', x: 'y'.repeat(LIMITS.guestBytes) }));
    // RFC 6455, 7.4.1: 1009, a message too big to process.
    expect(await device.closed).toBe(1009);
    expect(await page.next('left')).toMatchObject({ id });
  });
  test('not more than a hand can do: a flood is thinned, and one that goes on is cut off', async () => {
    const { page, device } = await paired();
    for (let n = 0; n < LIMITS.guestBurst + 100; n++) device.say({ type: 'macro', number: 1, value: (n % 100) / 100 });
    device.say({ type: 'ping', at: 1, latency: 1 });
    await settled(device);
    await settled(page);
    expect(page.heard.filter(({ type }) => type === 'from')).toHaveLength(LIMITS.guestBurst);
    for (let n = 0; n < LIMITS.flood; n++) device.say({ type: 'next' });
    expect(await device.closed).toBe(1008);
    expect(page.heard.filter(({ type }) => type === 'from')).toHaveLength(LIMITS.guestBurst);
  });
});

const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createSocket('udp4');
    probe.bind(0, '127.0.0.1', () => {
      const { port: found } = probe.address();
      probe.close(() => resolve(found));
    });
  });

describe('OSC', () => {
  const send = (to: number, address: string, ...values: number[]) =>
    new Promise<void>((resolve) => {
      const socket = createSocket('udp4');
      const view = toBuffer({ address, args: values.map((value) => ({ type: 'float' as const, value })) });
      socket.send(new Uint8Array(view.buffer, view.byteOffset, view.byteLength), to, '127.0.0.1', () => {
        socket.close();
        resolve();
      });
    });
  test('is off until the page asks for it, and heard where it says', async () => {
    const { page } = await room();
    expect(pairing.osc.heardAt).toBeNull();
    const free = await freePort();
    page.say({ type: 'osc', in: { address: '127.0.0.1', port: free }, out: null });
    expect(await page.next('osc')).toMatchObject({ in: { address: '127.0.0.1', port: free }, problem: '' });
    await send(free, '/wavicle/macro/3', 0.25);
    expect(await page.next('from')).toMatchObject({ id: 0, message: { type: 'macro', number: 3, value: 0.25 } });
    await send(free, '/wavicle/macro/3', 7);
    await send(free, '/other/macro/3', 0.5);
    await send(free, '/wavicle/next', 0);
    await send(free, '/wavicle/step', 4);
    expect(await page.next('from')).toMatchObject({ message: { type: 'go', place: 3 } });
    page.socket.close();
    while (pairing.osc.heardAt) await new Promise((resolve) => setTimeout(resolve, 5));
    expect(pairing.osc.heardAt).toBeNull();
  });
  test('counts messages, however many come in one datagram', async () => {
    const { page } = await room();
    page.say({ type: 'osc', in: { address: '127.0.0.1', port: await freePort() }, out: null });
    const { in: place } = (await page.next('osc')) as unknown as { in: { port: number } };
    const bundle = toBuffer({
      oscType: 'bundle',
      timetag: [0, 1],
      elements: Array.from({ length: 40 }, () => ({ address: '/wavicle/next', args: [] })),
    } as never);
    const socket = createSocket('udp4');
    for (let n = 0; n < 40; n++)
      await new Promise<void>((resolve) => {
        socket.send(new Uint8Array(bundle.buffer, bundle.byteOffset, bundle.byteLength), place.port, '127.0.0.1', () =>
          resolve(),
        );
      });
    await new Promise((resolve) => setTimeout(resolve, 300));
    await settled(page);
    socket.close();
    // 1600 were sent: a burst passes, and a little more for the time it took.
    const passed = page.heard.filter(({ type }) => type === 'from').length;
    expect(passed).toBeGreaterThanOrEqual(LIMITS.guestBurst);
    expect(passed).toBeLessThan(1200);
  });
  test.each(['999.1.1.1', '1.2.3', 'localhost', '01.2.3.4', '1.2.3.4.5', '256.0.0.1'])(
    'no address that would be looked up: %s',
    async (address) => {
      const { page } = await room();
      page.say({ type: 'osc', in: null, out: { address, port: 9000 } });
      page.say({ type: 'osc', in: null, out: null });
      expect(await page.next('osc')).toMatchObject({ out: null });
      expect(page.heard).toEqual([]);
    },
  );
  test('says what cannot be', async () => {
    const { page } = await room();
    const taken = createSocket('udp4');
    await new Promise<void>((resolve) => {
      taken.bind(0, '127.0.0.1', resolve);
    });
    page.say({ type: 'osc', in: { address: '127.0.0.1', port: taken.address().port }, out: null });
    expect(await page.next('osc')).toMatchObject({ in: null, problem: expect.stringContaining('in use') as unknown });
    taken.close();
  });
  test('goes out as the page says it, and can be read by whoever knows OSC', async () => {
    const { page } = await room();
    const ear = createSocket('udp4');
    await new Promise<void>((resolve) => {
      ear.bind(0, '127.0.0.1', resolve);
    });
    const heard = new Promise<Buffer>((resolve) => ear.once('message', resolve));
    page.say({ type: 'osc', in: null, out: { address: '127.0.0.1', port: ear.address().port } });
    await page.next('osc');
    page.say({ type: 'say', address: '/wavicle/stage', values: ['Low Water', 3, 0.5] });
    const bytes = await heard;
    // Open Sound Control 1.0: an address pattern, a type tag string beginning with a comma, arguments; each padded to 4
    // bytes.
    expect(bytes.length % 4).toBe(0);
    expect(bytes.includes(',sif')).toBe(true);
    expect(fromBuffer(bytes)).toMatchObject({
      address: '/wavicle/stage',
      args: [{ value: 'Low Water' }, { value: 3 }, { value: 0.5 }],
    });
    ear.close();
  });
});
