/** Refused: bytes that are not what they should be. `place` says where: a file, a chunk, an entry. */
export class FileError extends Error {
  constructor(
    readonly place: string,
    readonly problem: string,
  ) {
    super(place ? `${place}: ${problem}` : problem);
  }
}
