import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { WebSocket } from 'ws';
import { LIMITS, PAGE_GONE } from '../core/remote/messages';
import { Pairing } from './pairing';

/** A second machine: by its own server to the room of the first. */

interface Machine {
  server: Server;
  pairing: Pairing;
  port: number;
}
const machines: Machine[] = [];
const open: WebSocket[] = [];
async function machine(): Promise<Machine> {
  const server = createServer();
  await new Promise<void>((resolve) => {
    server.listen(0, '127.0.0.1', resolve);
  });
  const made = {
    server,
    pairing: new Pairing(server, { now: () => 1e12 }),
    port: (server.address() as AddressInfo).port,
  };
  machines.push(made);
  return made;
}
afterEach(async () => {
  for (const socket of open.splice(0)) socket.terminate();
  for (const { server, pairing } of machines.splice(0)) {
    await pairing.end();
    await new Promise((resolve) => {
      server.close(resolve);
      server.closeAllConnections();
    });
  }
});

type Heard = Record<string, unknown> & { type: string };
async function line({ port }: Machine, path: string, origin = `http://127.0.0.1:${port}`) {
  const socket = new WebSocket(`ws://127.0.0.1:${port}${path}`, { origin });
  open.push(socket);
  const heard: Heard[] = [];
  let wake: () => void = () => undefined;
  socket.on('message', (data) => {
    heard.push(JSON.parse(String(data)) as Heard);
    wake();
  });
  const closed = new Promise<string>((resolve) => socket.on('close', (_code, why) => resolve(String(why))));
  await new Promise((resolve, reject) => {
    socket.on('open', resolve);
    socket.on('error', reject);
  });
  return {
    socket,
    heard,
    closed,
    say: (message: object) => socket.send(JSON.stringify(message)),
    async next(type: string): Promise<Heard> {
      for (;;) {
        const at = heard.findIndex((message) => message.type === type);
        if (at >= 0) return heard.splice(at, 1)[0];
        await new Promise<void>((resolve) => {
          wake = resolve;
        });
      }
    },
  };
}
/** The page that plays on one machine, and the page of the other, led to it by its own server. */
async function two() {
  const first = await machine();
  const second = await machine();
  const page = await line(first, '/pair/host');
  page.say({ type: 'open' });
  const { code } = await page.next('room');
  const spare = await line(second, '/pair/away');
  spare.say({ type: 'away', address: '127.0.0.1', port: first.port });
  spare.say({ type: 'join', code, name: 'second' });
  const { token } = await spare.next('welcome');
  const joined = await page.next('joined');
  return { first, second, page, spare, token, id: joined.id as number, joined };
}

test('a second machine comes by its own server, with the code; both say to one another what they like', async () => {
  const { page, spare, id, joined } = await two();
  expect(joined).toMatchObject({ name: 'second', spare: true });
  spare.say({ type: 'link', body: { type: 'hello', more: [1, 2] } });
  expect(await page.next('from')).toEqual({
    type: 'from',
    id,
    message: { type: 'link', body: { type: 'hello', more: [1, 2] } },
  });
  const long = 'x'.repeat(200_000);
  page.say({ type: 'tell', to: id, body: { type: 'link', body: { long } } });
  expect(await spare.next('told')).toEqual({ type: 'told', body: { type: 'link', body: { long } } });
  // The server itself says that the machine is there; what is told to all devices is none of its business.
  await spare.next('alive');
  page.say({ type: 'tell', body: { type: 'live', live: {} } });
  page.say({ type: 'tell', to: id, body: { type: 'link', body: { last: true } } });
  expect(await spare.next('told')).toEqual({ type: 'told', body: { type: 'link', body: { last: true } } });
});

test('when the page that plays ends, it is told at once; its token lets it in again', async () => {
  const { first, second, page, spare, token } = await two();
  page.socket.terminate();
  expect(await spare.closed).toBe(PAGE_GONE);
  const again = await line(first, '/pair/host');
  again.say({ type: 'open', seats: [] });
  await again.next('room');
  const back = await line(second, '/pair/away');
  back.say({ type: 'away', address: '127.0.0.1', port: first.port });
  back.say({ type: 'return', token });
  // This room was opened by a page that knows of no seats.
  expect(await back.next('refused')).toMatchObject({ text: 'this device is not paired any more' });
});

test('a tablet’s token is none of a second machine, and the other way round', async () => {
  const { first, token } = await two();
  const guest = await line(first, '/pair/guest');
  guest.say({ type: 'return', token });
  expect(await guest.next('refused')).toMatchObject({ text: 'this device is not paired any more' });
});

test.each([
  [{ type: 'away', address: '8.8.8.8', port: 80 }],
  [{ type: 'away', address: 'localhost', port: 80 }],
  [{ type: 'away', address: '10.0.0.1' }],
  [{ type: 'join', code: 'x', name: 'y' }],
])('nobody is led elsewhere: %j', async (message) => {
  const away = await line(await machine(), '/pair/away');
  away.say(message);
  expect(await away.closed).toBe('this is no address of this network');
});

test('a page of another server is not led anywhere', async () => {
  const here = await machine();
  await expect(line(here, '/pair/away', 'http://elsewhere.test')).rejects.toThrow('403');
});

test('where nothing is offered, or nobody is, the page is told', async () => {
  const first = await machine();
  const away = await line(await machine(), '/pair/away');
  away.say({ type: 'away', address: '127.0.0.1', port: first.port });
  expect(await away.closed).not.toBe('');
});

test('a message that is longer than any of ours ends the line; a flood is thinned, and ends it as well', async () => {
  const { page, spare, id } = await two();
  spare.say({ type: 'link', body: { long: 'x'.repeat(LIMITS.spareBytes) } });
  expect(await page.next('left')).toMatchObject({ id });
  const other = await two();
  for (let n = 0; n < LIMITS.spareBurst + LIMITS.flood + 200; n++) other.spare.say({ type: 'link', body: { n } });
  await other.spare.closed;
  expect(other.page.heard.filter(({ type }) => type === 'from').length).toBeLessThanOrEqual(LIMITS.spareBurst);
});
