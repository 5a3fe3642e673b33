import type { ReactNode } from 'react';

/** A table that may be wider than the screen: by keyboard, too, it can be scrolled. */
export function Scrolled({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="scrolled" role="region" aria-label={label} tabIndex={0}>
      {children}
    </div>
  );
}
