import { useQueryClient } from '@tanstack/react-query';
import { useSyncExternalStore } from 'react';
import { isPassing } from '../api/passing.js';

/**
 * Says that the service is away, as long as anything that is shown could not be fetched, and goes with the outage. What is
 * shown meanwhile is of before.
 */
export function Outage() {
  const cache = useQueryClient().getQueryCache();
  const isAway = useSyncExternalStore(
    (listener) => cache.subscribe(listener),
    () =>
      cache
        .getAll()
        .some(
          (query) =>
            query.getObserversCount() > 0 &&
            (isPassing(query.state.error) || isPassing(query.state.fetchFailureReason)),
        ),
  );
  return (
    <div role="status">
      {isAway && (
        <p className="flex-none border-b border-line bg-ochre-wash px-4 py-1 font-medium">
          The service does not answer. What is shown is of before; this goes away when it answers again.
        </p>
      )}
    </div>
  );
}
