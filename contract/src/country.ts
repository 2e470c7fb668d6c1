import type { Coverage } from '@jade-fence/core/country';

export interface CountryDataBody {
  readonly source: string;
  readonly date: string;
  readonly networks: number;
  readonly coverage: Coverage | null;
  readonly faultCount: number;
  readonly faults: readonly { readonly line: number; readonly code: string; readonly reason: string }[];
  readonly loadedAt: string;
}

export interface CountryOfBody {
  readonly address: string;
  readonly country: string;
  readonly name: string | null;
  /** Whether a correction says so, the country data, or neither holds the address. */
  readonly by: 'correction' | 'data' | 'neither';
  /** The network that holds the address. */
  readonly network: string | null;
  /** The country data in force; null where none is. */
  readonly source: string | null;
  readonly date: string | null;
}

export interface CountryDataQuery {
  /** Where the data came from, such as the name of its file. */
  readonly source: string;
  /** The day of the data; default the day that the file has. */
  readonly date?: string;
}
