import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { call } from '../api/call.js';

const PAUSE_MS = 250;

/** What a text would mean in the draft, read as it is typed. */
export function useReading(file: string, text: string | undefined) {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [text]);
  return useQuery({
    queryKey: ['reading', file, settled],
    queryFn: () => call('POST /workspace/reading', { body: { files: [{ name: file, text: settled as string }] } }),
    enabled: settled !== undefined && settled.trim() !== '',
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });
}
