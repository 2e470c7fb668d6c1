import { REQUEST_FIELDS } from './request-fields.js';
import { REQUEST_LINE } from './request-line.js';

/**
 * How the parts of a log are taken for the fields of requests: the columns of a table, the members of JSON objects, or
 * the parts of a line of text.
 */
export interface Mapping {
  /**
   * For a field's short name, `header.NAME` or `header.*`, the place of its value: the name of a column, or of a member
   * of the object: by name, by dotted names, or by a JSON Pointer (RFC 6901). All other fields are found by name.
   */
  readonly columns: Readonly<Record<string, string>>;
  /** The IANA time zone of times without an offset. Default UTC. */
  readonly zone?: string | undefined;
  /** The shape of a line of text, with fields in braces; a mapping that has one is for text. */
  readonly pattern?: string | undefined;
}

export const NO_MAPPING: Mapping = { columns: {} };

/** All headers that the place holds, of those that were chosen to be logged. */
export const ANY_HEADER = 'header.*';

/** Whether a mapping may speak of the field: one of a request, its request line, a header, or the headers of one place. */
export const isMappable = (field: string): boolean =>
  (REQUEST_FIELDS as readonly string[]).includes(field)
    ? field !== 'some-headers'
    : field === ANY_HEADER || field === REQUEST_LINE || /^header\.[!#$%&'*+.^_`|~0-9a-z-]{1,64}$/.test(field);

/** Whether the mapping says anything of the lines of a log that has neither columns nor a pattern of its own. */
export const hasPlaces = ({ columns }: Mapping): boolean => Object.keys(columns).length > 0;
