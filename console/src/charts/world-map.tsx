import { nameOfCountry } from '../marks/country.js';
import { HEIGHT, WIDTH, WORLD } from './world.js';

interface WorldMapProps {
  /** What the map shows, in words. */
  readonly label: string;
  /** How dark each country is, from 0 to 1. */
  readonly shade: (code: string) => number;
  readonly detail: (code: string) => string;
  readonly onChoose: (code: string) => void;
}

/** The world, by country. A list beside it has the same figures, for the keyboard and for screen readers. */
export function WorldMap({ label, shade, detail, onChoose }: WorldMapProps) {
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="h-auto w-full" role="img" aria-label={label}>
      {WORLD.map(({ code, path }) => {
        const dark = shade(code);
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: the list beside the map does the same by keyboard
          <path
            key={code}
            d={path}
            onClick={() => onChoose(code)}
            className={`cursor-pointer stroke-sheet stroke-[0.5] hover:stroke-ink ${dark > 0 ? 'fill-iris' : 'fill-line'}`}
            fillOpacity={dark > 0 ? 0.25 + 0.75 * dark : 1}
          >
            <title>{`${nameOfCountry(code)} (${code}) ${detail(code)}`}</title>
          </path>
        );
      })}
    </svg>
  );
}
