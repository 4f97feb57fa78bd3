/** A process that tries what it is told, some items of a part at a time. */
import { PARTS } from './parts';
import type { Outcome } from './part';

export interface Task {
  name: string;
  first: number;
  count: number;
}
export interface Answer {
  outcome: Outcome;
  seconds: number;
}

// What was begun here ends with it, also where whoever asked has gone.
process.on('disconnect', () => process.exit());
process.on('SIGTERM', () => process.exit());

process.on('message', ({ name, first, count }: Task) => {
  void (async () => {
    const began = performance.now();
    const answer = (outcome: Outcome) =>
      process.send!({ outcome, seconds: (performance.now() - began) / 1000 } satisfies Answer);
    try {
      answer(await PARTS.find((part) => part.name === name)!.try(first, count));
    } catch (error) {
      const what = `${name} from ${first} on, ${count} of them: ${(error as Error).stack}`;
      answer({ tried: {}, failures: [what], figures: {} });
    }
  })();
});
