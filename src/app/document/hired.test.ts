import { expose } from 'comlink';
import { MessageChannel } from 'node:worker_threads';
import { Hired } from './hired';

/** What a worker offers here. */
const api = {
  double: (n: number) => 2 * n,
  refuse: () => {
    throw new Error('not today');
  },
  never: () => new Promise<number>(() => undefined),
  count: async (to: number, told: (share: number) => void) => {
    for (let n = 1; n <= to; n++) told(n / to);
    await Promise.resolve();
    return to;
  },
};
type Api = typeof api;

/** A worker whose other side is here: two ends of a channel. */
function worker() {
  const { port1, port2 } = new MessageChannel();
  expose(api, port2 as never);
  const errors: (() => void)[] = [];
  let terminated = 0;
  const side = {
    postMessage: port1.postMessage.bind(port1),
    addEventListener: (type: string, heard: () => void) =>
      type === 'error' ? errors.push(heard) : (port1 as unknown as EventTarget).addEventListener(type, heard),
    removeEventListener: (type: string, heard: () => void) =>
      (port1 as unknown as EventTarget).removeEventListener(type, heard),
    terminate: () => {
      terminated++;
      port1.close();
    },
  };
  port1.start();
  return {
    worker: side as unknown as Worker,
    die: () => errors.forEach((heard) => heard()),
    terminated: () => terminated,
    close: () => port1.close(),
  };
}

test('functions are called as if they were here, and what they throw comes back', async () => {
  const { worker: side, close } = worker();
  const hired = new Hired<Api>(side);
  expect(await hired.ask((there) => there.double(21))).toBe(42);
  await expect(hired.ask((there) => there.refuse())).rejects.toThrow('not today');
  expect(await hired.ask((there) => there.double(1))).toBe(2);
  close();
});

test('one that dies answers everything that was open with why, and is known to be gone', async () => {
  const { worker: side, die, terminated } = worker();
  const hired = new Hired<Api>(side, 'it could not be read');
  const open = [hired.ask((there) => there.never()), hired.ask((there) => there.never())];
  expect(hired.isGone).toBe(false);
  die();
  for (const each of open) await expect(each).rejects.toThrow('it could not be read');
  expect(hired.isGone).toBe(true);
  expect(terminated()).toBe(1);
  await expect(hired.ask((there) => there.never())).rejects.toThrow('it could not be read');
});

test('one that is ended in the middle says what it was told', async () => {
  const { worker: side } = worker();
  const hired = new Hired<Api>(side);
  const open = hired.ask((there) => there.never());
  hired.end(new Error('reading it took longer than 60 s'));
  await expect(open).rejects.toThrow('longer than 60 s');
});

test('progress is heard until the answer is there, and nothing of it after', async () => {
  const { worker: side, close } = worker();
  const hired = new Hired<Api>(side);
  const heard: number[] = [];
  const result = await hired.askTelling(
    (there, told) => there.count(4, told),
    (share) => heard.push(share),
  );
  expect(result).toBe(4);
  const until = heard.length;
  await new Promise((resolve) => setTimeout(resolve, 50));
  expect(heard).toHaveLength(until);
  expect(heard).toEqual([0.25, 0.5, 0.75, 1].slice(0, until));
  close();
});
