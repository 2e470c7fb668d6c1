import { ROLES, type Role } from '@jade-fence/contract';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  Min,
  Validate,
} from 'class-validator';
import { AUDITED, type Audited } from '../../audit/audit.js';
import { IsFlag } from './is-flag.js';
import { IsInstant } from './is-instant.js';
import { PageQuery } from './page-query.js';
import { IsDnsServer, IsHost } from './resolution-input.js';

const PERSON = /^[a-z0-9](?:[a-z0-9._@-]{0,98}[a-z0-9])?$/;
const PERSON_MESSAGE =
  'name is 1 to 100 of a-z, 0-9, dot, dash, underscore and @, and begins and ends with a letter or digit';
const SHORTEST_PASSWORD = 12;

class PasswordInput {
  @IsOptional()
  @IsString()
  @Length(SHORTEST_PASSWORD, 200)
  password?: string;
}

export class NewPersonInput extends PasswordInput {
  @Matches(PERSON, { message: PERSON_MESSAGE })
  name!: string;

  @IsIn(ROLES)
  role!: Role;
}

export class PersonChangeInput extends PasswordInput {
  @IsOptional()
  @IsIn(ROLES)
  role?: Role;

  @IsOptional()
  @IsBoolean()
  disabled?: boolean;

  /** Whether they may see addresses that policies replace by pseudonyms. */
  @IsOptional()
  @IsBoolean()
  seesAddresses?: boolean;
}

/** One's own password. */
export class PasswordChangeInput {
  /** The one until now; not needed where there is none. */
  @IsOptional()
  @IsString()
  @Length(1, 200)
  old?: string;

  @IsString()
  @Length(SHORTEST_PASSWORD, 200)
  password!: string;
}

export class NewTokenInput {
  @IsString()
  @Length(1, 100)
  name!: string;

  /** `gateway`: makes live decisions, and may do nothing else. Without it, it calls in its owner's name. */
  @IsOptional()
  @IsIn(['person', 'gateway'])
  kind?: 'person' | 'gateway';

  /** What it may do at most; without it, all that its owner may. */
  @IsOptional()
  @IsIn(ROLES)
  role?: Role;

  /** Until when it holds, 366 days at most; without it, 90 days, and of a gateway 366. */
  @IsOptional()
  @IsInstant()
  expires?: string;
}

export class TokensQuery extends PageQuery {
  /** Those of everyone; for administrators. */
  @IsOptional()
  @IsFlag()
  all = false;
}

export class SettingsInput {
  @IsOptional()
  @IsBoolean()
  fourEyes?: boolean;

  /** Where alerts are sent, by http or https; empty: nowhere. */
  @IsOptional()
  @Matches(/^(?:https?:\/\/[^\s@]{1,2000})?$/, {
    message: 'alertUrl is an address of http or https, without a user in it',
  })
  alertUrl?: string;

  /** Whether that address may be in private address space. */
  @IsOptional()
  @IsBoolean()
  alertPrivate?: boolean;

  /** The DNS servers that hosts are looked up by; empty: nothing is looked up. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(8)
  @ArrayUnique({ message: 'dnsServers are named once each' })
  @Validate(IsDnsServer, { each: true })
  dnsServers?: string[];

  /** The most hosts that are looked up a second. */
  @IsOptional()
  @IsInt()
  @Min(1)
  @Max(1000)
  dnsPerSecond?: number;

  /** Whether names of private networks may be sent to servers outside. */
  @IsOptional()
  @IsBoolean()
  dnsPrivateNames?: boolean;

  /** Domains of one's own, whose names are those of private networks too. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(100)
  @ArrayUnique({ message: 'dnsOwnDomains are named once each' })
  @Validate(IsHost, { each: true })
  dnsOwnDomains?: string[];
}

/** Which entries of the audit. */
export class AuditQuery extends PageQuery {
  @IsOptional()
  @IsString()
  @Length(1, 100)
  actor?: string;

  @IsOptional()
  @IsIn(AUDITED)
  action?: Audited;

  @IsOptional()
  @IsString()
  @Length(1, 100)
  kind?: string;

  @IsOptional()
  @IsString()
  @Length(1, 300)
  name?: string;

  @IsOptional()
  @IsInstant()
  from?: string;

  @IsOptional()
  @IsInstant()
  to?: string;
}

/** A head of the audit from earlier. */
export class AuditHeadQuery {
  @IsOptional()
  @Matches(/^[0-9a-f]{64}$/, { message: 'head is 64 hexadecimal digits' })
  head?: string;
}
