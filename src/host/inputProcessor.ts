/// <reference path="./audioWorkletScope.d.ts" />

/**
 * Passes on what comes in, some frames at a time. It runs in a context of its own, so that what it hands over costs the
 * engine nothing.
 */
class InputProcessor extends AudioWorkletProcessor {
  private readonly chunk = new Float32Array(2 * CHUNK_FRAMES);
  private at = 0;

  override process([input]: Float32Array[][]): boolean {
    const left = input[0];
    if (!left) return true;
    const right = input[1] ?? left;
    for (let i = 0; i < left.length; i++) {
      this.chunk[2 * this.at] = left[i];
      this.chunk[2 * this.at + 1] = right[i];
      if (++this.at < CHUNK_FRAMES) continue;
      this.port.postMessage(this.chunk.slice());
      this.at = 0;
    }
    return true;
  }
}

const CHUNK_FRAMES = 2048;
registerProcessor('wavicle-input', InputProcessor);
