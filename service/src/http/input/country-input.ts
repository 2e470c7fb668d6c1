import { IsOptional, IsString, Length, Matches } from 'class-validator';

export class CountryDataQuery {
  /** Where the data came from, such as the name of its file. */
  @IsString()
  @Length(1, 300)
  source!: string;

  /** The day of the data; default the day that the file has, else today. */
  @IsOptional()
  @Matches(/^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])$/, { message: 'date is a day such as 2026-11-01' })
  date?: string;
}
