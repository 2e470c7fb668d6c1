import { suggest } from '@jade-fence/core/issue';
import { isMappable, LOG_FORMATS, type LogFormat, type Mapping, REQUEST_FIELDS } from '@jade-fence/core/log';
import { isZone } from '@jade-fence/core/schedule';
import { Transform } from 'class-transformer';
import { ArrayMaxSize, IsArray, IsIn, IsObject, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
import { refusal } from '../../fault/refusal.js';
import { validated } from '../validate.js';
import { withRedact } from './redact-input.js';

export const NAME = /^[a-z0-9-]{1,64}$/;
export const NAME_MESSAGE = '$property is 1 to 64 of the characters a-z, 0-9 and -';

/** How columns are mapped, in a query and a body. */
export class MappingInput {
  /** The fields that columns of CSV are taken for, as `FIELD=COLUMN`. */
  @IsOptional()
  @Transform(({ value }) => (typeof value === 'string' ? [value] : value))
  @IsArray()
  @ArrayMaxSize(64)
  @Matches(/^[^=]{1,80}=.{1,200}$/s, { each: true, message: 'each column is given as FIELD=COLUMN' })
  column?: string[];

  /** The time zone of times without an offset. */
  @IsOptional()
  @IsString()
  @MaxLength(64)
  zone?: string;
}

/** A mapping to be saved; it may have the fields of a saved one. */
export class SavedMappingInput {
  @IsObject()
  columns!: Record<string, string>;

  @IsOptional()
  @IsString()
  @MaxLength(64)
  zone?: string | null;

  /** In the form of a query. */
  get asQuery(): MappingInput {
    const column = Object.entries(this.columns).map(([field, name]) => `${field}=${name}`);
    return validated(MappingInput, { column, zone: this.zone ?? undefined }, 'body');
  }
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

  /** A saved mapping; columns and zone in the query take precedence. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  mapping?: string;
}

/** How columns are mapped, from the query; reports all invalid fields and zones at once. */
export function mappingOf({ column = [], zone }: MappingInput, consequence = 'nothing was imported'): Mapping {
  const columns = new Map(column.map((each) => [each.slice(0, each.indexOf('=')), each.slice(each.indexOf('=') + 1)]));
  const issues = [...columns.keys()]
    .filter((field) => !isMappable(field))
    .map((field) => ({ path: field, what: `\`${field}\` is no field of a request${suggestion(field)}` }));
  if (zone !== undefined && !isZone(zone)) issues.push({ path: 'zone', what: `\`${zone}\` is no time zone` });
  if (issues.length > 0) throw refusal('bad-mapping', { consequence, fields: MAPPABLE.join(', ') }, { issues });
  return { columns: Object.fromEntries(columns), zone };
}

const MAPPABLE = REQUEST_FIELDS.filter(isMappable);

function suggestion(field: string): string {
  const meant = suggest(field, MAPPABLE);
  return meant === undefined ? '' : `; did you mean \`${meant}\`?`;
}
