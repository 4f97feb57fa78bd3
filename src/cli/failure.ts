/** What ends a command: one line for standard error, and its exit code: 1 for bad input, 2 for bad usage. */
export class Failure extends Error {
  constructor(
    message: string,
    readonly exitCode: 1 | 2 = 1,
  ) {
    super(message);
  }
}
