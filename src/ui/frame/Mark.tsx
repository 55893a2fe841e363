/** Kenosis' mark: a disc of which one quarter has been hatched away. */
export function Mark({ size = 18 }: { readonly size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true">
      <defs>
        <clipPath id="mark-quarter">
          <path d="M16 16H29A13 13 0 0 1 16 29Z" />
        </clipPath>
      </defs>
      <path d="M16 3A13 13 0 1 0 16 29V16H29A13 13 0 0 0 16 3Z" fill="var(--accent)" />
      <g clipPath="url(#mark-quarter)" stroke="var(--accent)" strokeWidth="2">
        <path d="M14 20L20 14M14 26L26 14M14 32L32 14M20 32L32 20" />
      </g>
    </svg>
  );
}
