import { parseHost } from '@jade-fence/core/domain';
import { literalOf, RESOLUTION_FORMATS, type ResolutionFormat } from '@jade-fence/core/resolution';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  ArrayUnique,
  IsArray,
  IsIn,
  IsOptional,
  IsString,
  Length,
  Matches,
  Validate,
  ValidatorConstraint,
  type ValidatorConstraintInterface,
} from 'class-validator';
import { serverAddress } from '../../resolve/look-up.js';
import { IsFlag } from './is-flag.js';
import { NAME, NAME_MESSAGE } from './log-input.js';

@ValidatorConstraint()
export class IsDnsServer implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    return typeof value === 'string' && value.length <= 100 && serverAddress(value) !== undefined;
  }

  defaultMessage(): string {
    return '$property has addresses, with a port where it is not 53, such as 10.40.0.53 or [2001:db8::53]:5353';
  }
}

@ValidatorConstraint()
export class IsHost implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    return typeof value === 'string' && value.length <= 300 && parseHost(value) !== undefined;
  }

  defaultMessage(): string {
    return '$property has host names such as www.visit-portugal.example';
  }
}

/** A host that can be looked up: an address needs no look-up. */
@ValidatorConstraint()
export class IsNamedHost implements ValidatorConstraintInterface {
  validate(value: unknown): boolean {
    const host = typeof value === 'string' && value.length <= 300 ? parseHost(value) : undefined;
    return host !== undefined && literalOf(host) === undefined;
  }

  defaultMessage(): string {
    return '$property has names such as www.visit-portugal.example; an address needs no look-up';
  }
}

export class ResolutionFileQuery {
  /** Where it came from, such as the name of the file. */
  @IsString()
  @Length(1, 300)
  source!: string;

  /** Without it, the format that the file itself shows. */
  @IsOptional()
  @IsIn(RESOLUTION_FORMATS)
  format?: ResolutionFormat;

  /** What relative names of a zone file are under. */
  @IsOptional()
  @IsString()
  @Length(1, 254)
  @Validate(IsHost)
  origin?: string;

  /** Whether what was known before does not count any more. */
  @IsOptional()
  @IsFlag()
  anew = false;
}

export class ResolveInput {
  /** The log whose hosts to resolve. */
  @IsOptional()
  @Matches(NAME, { message: NAME_MESSAGE })
  log?: string;

  /** The hosts to resolve, in place of those of a log. */
  @IsOptional()
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(1000)
  @ArrayUnique({ message: 'hosts are named once each' })
  @Validate(IsNamedHost, { each: true })
  hosts?: string[];

  /** `dns` asks the servers of the settings; `log` takes the addresses that the log itself shows. */
  @IsOptional()
  @IsIn(['dns', 'log'])
  by: 'dns' | 'log' = 'dns';
}
