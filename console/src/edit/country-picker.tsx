import { WorldMap } from '../charts/world-map.js';
import { COUNTRIES, nameOfCountry } from '../marks/country.js';
import { TickList } from './tick-list.js';

interface CountryPickerProps {
  readonly chosen: readonly string[];
  readonly onChange: (chosen: readonly string[]) => void;
}

/** Countries, on the map and as a list that can be searched. */
export default function CountryPicker({ chosen, onChange }: CountryPickerProps) {
  const toggle = (code: string) =>
    onChange(chosen.includes(code) ? chosen.filter((each) => each !== code) : [...chosen, code]);
  const codes = [...new Set([...COUNTRIES, ...chosen.filter((code) => /^[A-Z]{2}$/.test(code))])];
  const options = codes
    .map((code) => ({ value: code, label: nameOfCountry(code) }))
    .sort((a, b) => a.label.localeCompare(b.label));
  return (
    <div className="my-1">
      <WorldMap
        label="Map of the chosen countries"
        shade={(code) => (chosen.includes(code) ? 1 : 0)}
        detail={(code) => (chosen.includes(code) ? 'chosen' : '')}
        onChoose={toggle}
      />
      <TickList label="Countries" options={options} chosen={chosen} onChange={onChange} />
    </div>
  );
}
