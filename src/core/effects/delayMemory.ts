/** The next power of two that holds so many frames: lengths round which a place goes by a mask. */
export function roomFor(frames: number): number {
  let room = 16;
  while (room < frames) room *= 2;
  return room;
}
