/** The exit codes of the process, for scripts. */
export const EXIT = {
  done: 0,
  /** What was given does not hold: files with problems, or a verdict that is not the expected one. */
  notHeld: 1,
  /** The command line itself is wrong. */
  usage: 2,
  /** The service cannot be reached, started or opened with this key. */
  service: 3,
  /** The service refused: something is missing, taken, too large or in the wrong state. */
  refused: 4,
  /** A fault of ours. */
  internal: 70,
  /** Interrupted, as shells report SIGINT. */
  interrupted: 130,
} as const;

export type ExitCode = (typeof EXIT)[keyof typeof EXIT];
