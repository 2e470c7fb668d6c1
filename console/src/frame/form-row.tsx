import type { ReactNode } from 'react';

interface FormRowProps {
  readonly title: string;
  readonly about?: string | undefined;
  readonly children: ReactNode;
}

/** A part of a form, with its title above. */
export function FormRow({ title, about, children }: FormRowProps) {
  return (
    <fieldset className="min-w-0 border-t border-line/60 pt-2">
      <legend className="float-left mb-1 w-full font-medium">
        {title} {about && <span className="font-normal text-soft">{about}</span>}
      </legend>
      <div className="clear-both">{children}</div>
    </fieldset>
  );
}
