import { contentHash } from '../../../host/contentHash';
import type { SpareMessage } from '../../../core/remote/spare';

/** Parts that are asked for at once: enough for a line of a few ms, and not too much for a slow one. */
const AT_ONCE = 3;
/** One that has not come for so long is asked for again. */
const AGAIN_MS = 4000;
const LARGEST = 512 * 1024 * 1024;

interface Around {
  say: (message: SpareMessage) => void;
  has: (id: string) => Promise<boolean>;
  keep: (id: string, bytes: Uint8Array) => Promise<void>;
}

/** Samples that come over the line, by content, each once: asked for part by part, kept where their bytes are theirs. */
export class SamplesOverTheLine {
  private readonly wanted = new Set<string>();
  private readonly coming = new Map<string, { bytes: Uint8Array | null; at: number; since: number }>();
  private readonly settled = new Set<string>();

  constructor(private readonly around: Around) {}

  /** How many are still to come. */
  get count(): number {
    return this.wanted.size + this.coming.size;
  }

  /** Wants those that this browser does not have. */
  async want(ids: readonly string[]): Promise<void> {
    for (const id of ids) {
      if (this.settled.has(id) || this.wanted.has(id) || this.coming.has(id)) continue;
      this.settled.add(id);
      if (await this.around.has(id)) continue;
      this.settled.delete(id);
      this.wanted.add(id);
    }
    this.ask();
  }

  /** To be called now and then. */
  ask(): void {
    const now = performance.now();
    for (const [id, each] of this.coming)
      if (now - each.since > AGAIN_MS) {
        each.since = now;
        this.around.say({ type: 'want', id, from: each.at });
      }
    for (const id of this.wanted) {
      if (this.coming.size >= AT_ONCE) return;
      this.wanted.delete(id);
      this.coming.set(id, { bytes: null, at: 0, since: now });
      this.around.say({ type: 'want', id, from: 0 });
    }
  }

  /** A part has come. Gives the id of a sample that is whole and kept now. */
  async hear({ id, from, total, data }: Extract<SpareMessage, { type: 'sample' }>): Promise<string | undefined> {
    const each = this.coming.get(id);
    if (!each || from !== each.at) return undefined;
    const done = () => {
      this.coming.delete(id);
      this.settled.add(id);
      this.ask();
    };
    if (total === 0 || total > LARGEST) {
      done();
      return undefined;
    }
    each.bytes ??= new Uint8Array(total);
    const part = fromBase64(data);
    if (part.length === 0 || each.at + part.length > each.bytes.length) {
      done();
      return undefined;
    }
    each.bytes.set(part, each.at);
    each.at += part.length;
    each.since = performance.now();
    if (each.at < each.bytes.length) {
      this.around.say({ type: 'want', id, from: each.at });
      return undefined;
    }
    const isIt = (await contentHash(each.bytes)) === id;
    if (isIt) await this.around.keep(id, each.bytes);
    done();
    return isIt ? id : undefined;
  }
}

function fromBase64(text: string): Uint8Array {
  try {
    return Uint8Array.from(atob(text), (sign) => sign.charCodeAt(0));
  } catch {
    return new Uint8Array();
  }
}
