/** An edit of one rule of a policy that mends something, for programs. */
export type Mend =
  | { readonly type: 'move-above'; readonly rule: string; readonly above: string }
  | { readonly type: 'move-last'; readonly rule: string }
  | { readonly type: 'delete'; readonly rule: string }
  /** Sets a key of the rule; without a value the key is taken out, so that the usual holds. */
  | { readonly type: 'set'; readonly rule: string; readonly key: 'if-blind' | 'stance'; readonly value?: string }
  /** Adds values to a field of `when`, wherever it names the value `beside`. */
  | {
      readonly type: 'add-values';
      readonly rule: string;
      readonly field: string;
      readonly beside: string;
      readonly values: readonly string[];
    }
  /** Adds a rule above all others; `when` is what it matches, by fields, and it is to allow that. */
  | { readonly type: 'allow-first'; readonly rule: string; readonly when: Readonly<Record<string, readonly string[]>> };
