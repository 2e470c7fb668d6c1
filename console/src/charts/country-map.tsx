import type { Breakdown } from '@jade-fence/core/replay';
import { count } from '../marks/count.js';
import { WorldMap } from './world-map.js';

interface CountryMapProps {
  /** «where requests come from» */
  readonly of: string;
  readonly countries: Breakdown;
  readonly onChoose: (code: string) => void;
}

/** Requests by country. Small shares are drawn larger than they are, so that they can be seen at all. */
export default function CountryMap({ of, countries, onChoose }: CountryMapProps) {
  const byCode = new Map(countries.rows.map((row) => [row.key ?? '', row]));
  const most = Math.max(
    1,
    ...countries.rows.filter(({ key }) => /^[A-Z]{2}$/.test(key ?? '')).map((row) => row.requests),
  );
  return (
    <WorldMap
      label={`Map of ${of}; the table beside it has the same figures`}
      shade={(code) => Math.sqrt((byCode.get(code)?.requests ?? 0) / most)}
      detail={(code) => {
        const row = byCode.get(code);
        return row ? `${count(row.requests)} requests, ${count(row.block)} blocked` : 'no requests';
      }}
      onChoose={(code) => byCode.has(code) && onChoose(code)}
    />
  );
}
