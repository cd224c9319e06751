/** Buttons: what they do is said by their words; icons alone carry a tip. */
import type { ComponentProps, ReactNode } from 'react';
import { Tip } from './Tip';

const LOOKS = {
  primary: 'bg-tide text-on-tide font-semibold px-3 h-9 hover:brightness-110',
  plain: 'border border-rule bg-card px-3 h-9 hover:border-soft',
  quiet: 'px-2 h-8 text-soft hover:text-ink',
} as const;

type ButtonProps = ComponentProps<'button'> & { look?: keyof typeof LOOKS };

export function Button({ look = 'plain', className = '', ...props }: ButtonProps) {
  const frame =
    'inline-flex items-center justify-center gap-2 rounded whitespace-nowrap disabled:opacity-45 disabled:pointer-events-none';
  return <button type="button" {...props} className={`${frame} ${LOOKS[look]} ${className}`} />;
}

type IconButtonProps = ComponentProps<'button'> & { label: string; keys?: string; children: ReactNode };

export function IconButton({ label, keys, className = '', children, ...props }: IconButtonProps) {
  return (
    <Tip words={label} keys={keys}>
      <button
        type="button"
        aria-label={label}
        {...props}
        className={`inline-flex h-8 w-8 items-center justify-center rounded hover:bg-rule/50 disabled:opacity-35 ${className}`}
      >
        {children}
      </button>
    </Tip>
  );
}
