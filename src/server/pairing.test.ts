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

beforeEach(async () => {
  now = 1e12;
  server = createServer();
  pairing = new Pairing(server, { now: () => now, addresses: () => ['10.1.2.3'] });
  await new Promise<void>((resolve) => { server.listen(0, '127.0.0.1', resolve); });
  port = (server.address() as AddressInfo).port;
});
afterEach(async () => {
  for (const socket of open.splice(0)) socket.terminate();
  await pairing.end();
  await new Promise((resolve) => { server.close(resolve); server.closeAllConnections(); });
});

interface Line<T> { socket: WebSocket; heard: T[]; say: (message: object | string) => void; next: (type: string) => Promise<T & Record<string, never>>; closed: Promise<number> }
function connect<T extends { type: string }>(path: string, origin = `http://127.0.0.1:${port}`): Promise<Line<T>> {
  const socket = new WebSocket(`ws://127.0.0.1:${port}${path}`, { origin });
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
    socket, heard, closed, say: (message) => socket.send(typeof message === 'string' ? message : JSON.stringify(message)),
    next: (type) => new Promise((resolve) => {
      const at = heard.findIndex((message) => message.type === type);
      if (at >= 0) resolve(heard.splice(at, 1)[0] as never);
      else waiting.push({ type, resolve: resolve as never });
    }),
  };
  return new Promise((resolve, reject) => { socket.on('open', () => resolve(line)); socket.on('error', reject); });
}
/** Until the server has dealt with all that was said before, and what it answered has arrived: its pong comes after both (RFC 6455, 5.5.3, on one ordered stream). */
const settled = ({ socket }: Pick<Line<never>, 'socket'>) => new Promise<void>((resolve) => { socket.once('pong', () => resolve()); socket.ping(); });
const host = () => connect<ToHost>('/pair/host');
const guest = () => connect<ToGuest>('/pair/guest');
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
    for (const path of ['/pair/host', '/pair/guest']) await expect(connect(path, 'http://elsewhere.test')).rejects.toThrow('403');
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
      for (let n = 0; n < 5; n++) { const wrong = await guest(); wrong.say({ type: 'join', code: 'AAAAAAAA', name: '' }); await wrong.next('refused'); }
    }
    expect(page.heard.filter(({ type }) => type === 'room')).toHaveLength(1);
  });
  test('nobody who says nothing, or something else first', async () => {
    await room();
    const babbler = await guest();
    babbler.say({ type: 'macro', number: 1, value: 1 });
    expect(await babbler.next('refused')).toMatchObject({ text: 'this was no greeting' });
  });
  test('a token serves for one return: played back it is refused', async () => {
    const { page, device, token, id } = await paired();
    device.socket.close();
    expect(await page.next('left')).toMatchObject({ id });
    const back = await guest();
    back.say({ type: 'return', token });
    const { token: fresh } = (await back.next('welcome')) as unknown as { token: string };
    expect(fresh).not.toBe(token);
    expect(await page.next('joined')).toMatchObject({ id });
    const thief = await guest();
    thief.say({ type: 'return', token });
    expect(await thief.next('refused')).toMatchObject({ text: 'this device is not paired any more' });
    expect(back.socket.readyState).toBe(WebSocket.OPEN);
  });
  test('eight devices and no more; one that was sent away cannot come back', async () => {
    const { page, code: first } = await room();
    let code = first;
    const tokens: string[] = [];
    for (let n = 0; n < LIMITS.guests; n++) {
      const device = await guest();
      device.say({ type: 'join', code, name: `d${n}` });
      tokens.push(((await device.next('welcome')) as unknown as { token: string }).token);
      ({ code } = (await page.next('room')) as unknown as { code: string });
    }
    const ninth = await guest();
    ninth.say({ type: 'join', code, name: 'late' });
    expect(await ninth.next('refused')).toMatchObject({ text: expect.stringContaining('8 devices') as unknown });
    page.say({ type: 'dismiss', id: 1 });
    await page.next('joined');
    await settled(page);
    const again = await guest();
    again.say({ type: 'return', token: tokens[0] });
    await again.next('refused');
  });
});

describe('what is passed on', () => {
  test('what a device asks for, to the page alone; what the page tells, to all or to one', async () => {
    const { page, device, id } = await paired();
    device.say({ type: 'xy', number: 1, x: 0.25, y: 1, letGo: false });
    expect(await page.next('from')).toMatchObject({ id, message: { type: 'xy', number: 1, x: 0.25, y: 1, letGo: false } });
    page.say({ type: 'tell', body: { type: 'pong', at: 5 } });
    expect(await device.next('told')).toMatchObject({ body: { type: 'pong', at: 5 } });
    page.say({ type: 'tell', to: id + 1, body: { type: 'pong', at: 6 } });
    page.say({ type: 'tell', to: id, body: { type: 'pong', at: 7 } });
    expect(await device.next('told')).toMatchObject({ body: { at: 7 } });
  });
  test.each([
    ['{', 'no JSON'], ['null', 'nothing'], ['{"type":"macro","number":1,"value":1.5}', 'out of range'], ['{"type":"macro","number":"1","value":0.5}', 'a text for a number'], ['{"type":"macro","number":17,"value":0}', 'no such macro'],
    ['{"type":"macro","number":1,"value":0.5,"more":1}', 'more than there is'], ['{"type":"constructor"}', 'a name of the language'], ['{"type":"tell","body":{}}', 'what only the page may say'], ['{"type":"go","place":-1}', 'before the first'], ['{"type":"macro","number":1,"value":null}', 'no value'],
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

describe('OSC', () => {
  const send = (to: number, address: string, ...values: number[]) => new Promise<void>((resolve) => {
    const socket = createSocket('udp4');
    const view = toBuffer({ address, args: values.map((value) => ({ type: 'float' as const, value })) });
    socket.send(new Uint8Array(view.buffer, view.byteOffset, view.byteLength), to, '127.0.0.1', () => { socket.close(); resolve(); });
  });
  test('is off until the page asks for it, and heard where it says', async () => {
    const { page } = await room();
    expect(pairing.osc.heardAt).toBeNull();
    const free = await new Promise<number>((resolve) => { const probe = createSocket('udp4'); probe.bind(0, '127.0.0.1', () => { const { port: found } = probe.address(); probe.close(() => resolve(found)); }); });
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
  test('says what cannot be', async () => {
    const { page } = await room();
    const taken = createSocket('udp4');
    await new Promise<void>((resolve) => { taken.bind(0, '127.0.0.1', resolve); });
    page.say({ type: 'osc', in: { address: '127.0.0.1', port: taken.address().port }, out: null });
    expect(await page.next('osc')).toMatchObject({ in: null, problem: expect.stringContaining('in use') as unknown });
    taken.close();
  });
  test('goes out as the page says it, and can be read by whoever knows OSC', async () => {
    const { page } = await room();
    const ear = createSocket('udp4');
    await new Promise<void>((resolve) => { ear.bind(0, '127.0.0.1', resolve); });
    const heard = new Promise<Buffer>((resolve) => ear.once('message', resolve));
    page.say({ type: 'osc', in: null, out: { address: '127.0.0.1', port: ear.address().port } });
    await page.next('osc');
    page.say({ type: 'say', address: '/wavicle/stage', values: ['Low Water', 3, 0.5] });
    const bytes = await heard;
    // Open Sound Control 1.0: an address pattern, a type tag string beginning with a comma, arguments; each padded to 4 bytes.
    expect(bytes.length % 4).toBe(0);
    expect(bytes.includes(',sif')).toBe(true);
    expect(fromBuffer(bytes)).toMatchObject({ address: '/wavicle/stage', args: [{ value: 'Low Water' }, { value: 3 }, { value: 0.5 }] });
    ear.close();
  });
});
