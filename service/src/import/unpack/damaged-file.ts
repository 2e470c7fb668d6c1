/** A file of an archive that could not be read to its end, and why. */
export interface DamagedFile {
  readonly file: string;
  readonly reason: string;
}
