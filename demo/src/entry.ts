/** One entry of the demo's log, before it is written in a format. */
export interface Entry {
  /** Milliseconds since 1970. */
  readonly time: number;
  readonly peer: string;
  readonly forwardedFor: string | undefined;
  readonly method: string;
  readonly scheme: string | undefined;
  readonly host: string;
  /** The address of the destination, where the log shows it: outgoing traffic only. */
  readonly destination: string | undefined;
  /** Only tunnels have their port in the log. */
  readonly port: number | undefined;
  /** With its query; a tunnel has none. */
  readonly path: string | undefined;
  readonly status: number;
  readonly bytes: number;
  readonly agent: string | undefined;
}
