import { WorldMap } from '../charts/world-map.js';
import { count } from '../marks/count.js';

interface NetworksMapProps {
  readonly label: string;
  /** Of each country, how much of it there is: the more, the darker. */
  readonly amounts: ReadonlyMap<string, number>;
  readonly unit: string;
  readonly onChoose?: (code: string) => void;
}

/** The countries of networks. Small amounts are drawn darker than they are, to be seen at all. */
export default function NetworksMap({ label, amounts, unit, onChoose }: NetworksMapProps) {
  const most = Math.max(1, ...amounts.values());
  return (
    <WorldMap
      label={label}
      shade={(code) => Math.sqrt((amounts.get(code) ?? 0) / most)}
      detail={(code) => (amounts.has(code) ? `${count(amounts.get(code) ?? 0)} ${unit}` : `no ${unit}`)}
      onChoose={(code) => onChoose?.(code)}
    />
  );
}
