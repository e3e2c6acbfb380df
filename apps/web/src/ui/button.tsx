import { clsx } from 'clsx'
import type { ButtonHTMLAttributes } from 'react'
import { Link, type LinkProps } from 'react-router'

const looks = {
  primary: 'bg-accent text-accent-ink border-accent hover:brightness-110 font-medium',
  plain: 'bg-sheet text-ink border-edge hover:border-accent',
  quiet: 'border-transparent text-accent hover:underline underline-offset-2 px-1',
  danger: 'bg-sheet text-error border-error hover:bg-error-wash',
} as const
type Look = keyof typeof looks

const shape = (look: Look, className?: string) =>
  clsx(
    'inline-flex items-center gap-2 rounded-md border px-3 min-h-8 whitespace-nowrap disabled:opacity-50 print:hidden',
    looks[look],
    className,
  )

export function Button({ look = 'plain', className, type = 'button', ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
  return <button type={type} className={shape(look, className)} {...rest} />
}

export function ButtonLink({ look = 'plain', className, ...rest }: LinkProps & { look?: Look }) {
  return <Link className={shape(look, typeof className === 'string' ? className : undefined)} {...rest} />
}

/** A key to press, beside what it does. */
export const Key = ({ children }: { children: string }) => (
  <kbd className="font-mono text-tiny leading-none border border-current/35 rounded-sm px-1 py-0.5">{children}</kbd>
)
