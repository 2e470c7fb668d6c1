/** What holds for the whole service. */
export interface SettingsBody {
  /** Whether what one person wants to publish is published by another. */
  readonly fourEyes: boolean;
  /** Where alerts are sent; null: nowhere. Masked for all but administrators. */
  readonly alertUrl: string | null;
  /** Whether that may be in private address space. */
  readonly alertPrivate: boolean;
  /** The DNS servers that hosts are looked up by: addresses, with a port where it is not 53. Empty: nothing is looked up. */
  readonly dnsServers: readonly string[];
  /** The most hosts that are looked up a second. */
  readonly dnsPerSecond: number;
  /** Whether names of private networks may be sent to servers outside. */
  readonly dnsPrivateNames: boolean;
  /** Domains of one's own, whose names are those of private networks too. */
  readonly dnsOwnDomains: readonly string[];
}

export interface SettingsChange {
  readonly fourEyes?: boolean;
  /** Empty: nowhere. */
  readonly alertUrl?: string;
  readonly alertPrivate?: boolean;
  readonly dnsServers?: readonly string[];
  readonly dnsPerSecond?: number;
  readonly dnsPrivateNames?: boolean;
  readonly dnsOwnDomains?: readonly string[];
}
