/** The mark: a deltoid. */
export function Kite({ size = 16, filled = true, className }: { size?: number; filled?: boolean; className?: string }) {
  return (
    <svg width={size} height={size * 1.15} viewBox="0 0 20 23" className={className} aria-hidden="true">
      <path
        d="M10 1 18 8.5 10 22 2 8.5Z"
        fill={filled ? 'currentColor' : 'none'}
        stroke="currentColor"
        strokeWidth="1.6"
        strokeLinejoin="round"
      />
    </svg>
  );
}

const shapes = { ok: '●', attention: '▲', fault: '✕' } as const;

/** Fine, attention or fault, by colour and by shape. */
export function Sign({ state }: { state: 'ok' | 'attention' | 'fault' }) {
  return (
    <span
      className={`state-${state}`}
      style={{ fontSize: 11 }}
      title={{ ok: 'fine', attention: 'attention', fault: 'fault' }[state]}
    >
      {shapes[state]}
    </span>
  );
}
