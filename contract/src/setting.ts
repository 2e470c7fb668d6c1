/** What holds for the whole service. */
export interface SettingsBody {
  /** Whether what one person wants to publish is published by another. */
  readonly fourEyes: boolean;
  /** Where alerts are sent; null: nowhere. Masked for all but administrators. */
  readonly alertUrl: string | null;
  /** Whether that may be in private address space. */
  readonly alertPrivate: boolean;
}

export interface SettingsChange {
  readonly fourEyes?: boolean;
  /** Empty: nowhere. */
  readonly alertUrl?: string;
  readonly alertPrivate?: boolean;
}
