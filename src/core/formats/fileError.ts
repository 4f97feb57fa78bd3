import { LineError } from '../rig/lineError';

/** Refused: bytes that are not what they should be. `place` says where: a file, a chunk, an entry. */
export class FileError extends LineError {}
