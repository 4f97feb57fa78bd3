const LENGTH_SECONDS = 0.045;

/**
 * Ticks of a metronome for times of the audio clock: the first of a bar higher than the others. Gives what takes back
 * those that are still to come.
 */
export function clicks(context: AudioContext, times: readonly { at: number; first: boolean }[]): () => void {
  const gain = context.createGain();
  gain.connect(context.destination);
  const ticks = times.map(({ at, first }) => {
    const tick = context.createOscillator();
    const shape = context.createGain();
    tick.frequency.value = first ? 1760 : 1175;
    shape.gain.setValueAtTime(0, at);
    shape.gain.linearRampToValueAtTime(0.22, at + 0.002);
    shape.gain.exponentialRampToValueAtTime(0.0005, at + LENGTH_SECONDS);
    tick.connect(shape).connect(gain);
    tick.start(at);
    tick.stop(at + LENGTH_SECONDS);
    return tick;
  });
  return () => {
    for (const tick of ticks)
      try {
        tick.stop();
      } catch {
        /* It has not begun, or has ended. */
      }
    gain.disconnect();
  };
}
