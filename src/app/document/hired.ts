import { proxy, wrap, type Remote } from 'comlink';

/**
 * A worker whose functions are called as if they were here. One that dies, or is ended, answers whatever was still
 * asked of it with an error: nothing waits for ever.
 */
export class Hired<Api> {
  private readonly api: Remote<Api>;
  private readonly gone: Promise<never>;
  private leave: (error: Error) => void = () => undefined;
  /** It has died, or was ended: it can be asked nothing more. */
  isGone = false;

  /** `dies`: what is said where it dies of what it does. */
  constructor(
    private readonly worker: Worker,
    dies = 'the worker stopped',
  ) {
    this.api = wrap<Api>(worker);
    this.gone = new Promise<never>((_, reject) => {
      this.leave = reject;
    });
    // Nobody may be asking just then.
    this.gone.catch(() => undefined);
    worker.addEventListener('error', () => this.end(new Error(dies)));
  }

  /** Asks it to do something. Rejects with what it throws, or with why it is gone. */
  ask<T>(question: (api: Remote<Api>) => Promise<T>): Promise<T> {
    return Promise.race([question(this.api), this.gone]);
  }

  /** The same of what tells how far it is, 0…1. What it tells after its answer is no news, and is not passed on. */
  async askTelling<T>(
    question: (api: Remote<Api>, told: (share: number) => void) => Promise<T>,
    told: (share: number) => void,
  ): Promise<T> {
    let isOpen = true;
    const passOn = proxy((share: number) => {
      if (isOpen) told(share);
    });
    try {
      return await this.ask((api) => question(api, passOn));
    } finally {
      isOpen = false;
    }
  }

  /** Ends it, in the middle of whatever it does. */
  end(why = new Error('it was given up')): void {
    this.isGone = true;
    this.worker.terminate();
    this.leave(why);
  }
}
