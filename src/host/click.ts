const LENGTH_SECONDS = 0.045;

/**
 * Ticks of a metronome for times of the audio clock: the first of a bar higher than the others. Gives what takes back
 * those that are still to come. `pair`: the pair of channels that they go to.
 */
export function clicks(context: AudioContext, times: readonly { at: number; first: boolean }[], pair = 0): () => void {
  const gain = context.createGain();
  const { channelCount } = context.destination;
  const places = context.createChannelMerger(Math.max(2, channelCount));
  const first = 2 * pair + 1 < channelCount ? 2 * pair : 0;
  for (const side of [0, 1]) gain.connect(places, 0, first + side);
  places.connect(context.destination);
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
    places.disconnect();
  };
}
