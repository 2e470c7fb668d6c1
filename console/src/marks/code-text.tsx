import { Fragment } from 'react';

/** A sentence of the service, with the names between backticks set as names. */
export function CodeText({ text }: { readonly text: string }) {
  return text.split('`').map((part, index) => (
    // The parts of one sentence never change places.
    <Fragment key={index}>{index % 2 === 1 ? <code className="font-mono text-[0.96em]">{part}</code> : part}</Fragment>
  ));
}
