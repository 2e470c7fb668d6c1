import { suggest } from '@jade-fence/core/issue';
import {
  isMappable,
  LOG_FORMATS,
  type LogFormat,
  type Mapping,
  patternFaultText,
  REQUEST_FIELDS,
  tryLinePattern,
} from '@jade-fence/core/log';
import { isZone } from '@jade-fence/core/schedule';
import { Transform } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsIn, IsObject, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
import { refusal } from '../../fault/refusal.js';
import { validated } from '../validate.js';
import { withRedact } from './redact-input.js';

export const NAME = /^[a-z0-9-]{1,64}$/;
/** In characters. */
const LONGEST_PREVIEW = 32 * 1024;
export const NAME_MESSAGE = '$property is 1 to 64 of the characters a-z, 0-9 and -';

/** How the parts of a log are mapped, in a query and a body. */
export class MappingInput {
  /** Where fields are: in columns of a table or members of JSON, as `FIELD=PLACE`. */
  @IsOptional()
  @Transform(({ value }) => (typeof value === 'string' ? [value] : value))
  @IsArray()
  @ArrayMaxSize(64)
  @Matches(/^[^=]{1,80}=.{1,200}$/s, { each: true, message: 'each column is given as FIELD=PLACE' })
  column?: string[];

  /** The time zone of times without an offset. */
  @IsOptional()
  @IsString()
  @MaxLength(64)
  zone?: string;

  /** The shape of lines of text, with fields in braces. */
  @IsOptional()
  @IsString()
  @MaxLength(4000)
  pattern?: string;
}

/** A mapping to be saved; it may have the fields of a saved one. */
export class SavedMappingInput {
  @IsObject()
  columns!: Record<string, string>;

  @IsOptional()
  @IsString()
  @MaxLength(64)
  zone?: string | null;

  @IsOptional()
  @IsString()
  @MaxLength(4000)
  pattern?: string | null;

  /** In the form of a query. */
  get asQuery(): MappingInput {
    const { columns, zone, pattern } = this;
    const column = Object.entries(columns ?? {}).map(([field, place]) => `${field}=${place}`);
    return validated(MappingInput, { column, zone: zone ?? undefined, pattern: pattern ?? undefined }, 'body');
  }
}

/** The first lines of a log, to be read by a mapping. */
export class MappingPreviewInput extends SavedMappingInput {
  @IsString()
  @MaxLength(LONGEST_PREVIEW)
  text!: string;

  @IsOptional()
  @IsIn(LOG_FORMATS)
  format?: LogFormat;

  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  mapping?: string;

  @IsOptional()
  override columns: Record<string, string> = {};
}

export class MappingName {
  @Matches(NAME, { message: NAME_MESSAGE })
  name!: string;
}

export class ImportQuery extends withRedact(MappingInput) {
  @Matches(NAME, { message: NAME_MESSAGE })
  name!: string;

  @IsOptional()
  @IsIn(LOG_FORMATS)
  format?: LogFormat;

  /** A saved mapping; columns, zone and pattern in the query take precedence. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  mapping?: string;
}

/** How the parts of a log are mapped, from the query; reports all that is invalid at once. */
export function mappingOf({ column = [], zone, pattern }: MappingInput, consequence = 'nothing was imported'): Mapping {
  const columns = new Map(column.map((each) => [each.slice(0, each.indexOf('=')), each.slice(each.indexOf('=') + 1)]));
  const issues = [...columns.keys()]
    .filter((field) => !isMappable(field))
    .map((field) => ({ path: field, what: `\`${field}\` is no field of a request${suggestion(field)}` }));
  if (zone !== undefined && !isZone(zone)) issues.push({ path: 'zone', what: `\`${zone}\` is no time zone` });
  for (const [field, place] of columns)
    if (place.startsWith('/') && /~(?![01])/.test(place))
      issues.push({ path: field, what: `\`${place}\` is no JSON Pointer: behind ~ comes 0 or 1` });
  const read = pattern === undefined ? undefined : tryLinePattern(pattern);
  if (read && 'fault' in read) issues.push({ path: 'pattern', what: patternFaultText(read) });
  if (pattern !== undefined && columns.size > 0)
    issues.push({
      path: 'pattern',
      what: 'a pattern names its fields itself, so that columns have no place beside it',
    });
  if (issues.length > 0) throw refusal('bad-mapping', { consequence, fields: MAPPABLE.join(', ') }, { issues });
  return { columns: Object.fromEntries(columns), zone, pattern };
}

const MAPPABLE = REQUEST_FIELDS.filter(isMappable);

function suggestion(field: string): string {
  const meant = suggest(field, MAPPABLE);
  return meant === undefined ? '' : `; did you mean \`${meant}\`?`;
}
