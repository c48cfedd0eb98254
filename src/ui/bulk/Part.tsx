import type { FormEventHandler, ReactNode } from 'react';

interface Props {
  onSubmit: FormEventHandler<HTMLFormElement>;
  /** Why it cannot be sent. */
  fault?: string;
  children: ReactNode;
}

/** The settings of an action, under the buttons. */
export function Part({ onSubmit, fault, children }: Props) {
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-3 border-t border-rule pt-2"
      onSubmit={(event) => {
        event.preventDefault();
        onSubmit(event);
      }}
    >
      {children}
      {fault && (
        <p role="alert" className="w-full text-tiny text-one">
          {fault}
        </p>
      )}
    </form>
  );
}
