export function Knot() {
  return (
    <svg width="34" height="24" viewBox="2 6 28 16" aria-hidden="true">
      <path
        d="M3 18h7c4 0 4-9 8-9s4 12 0 12-3-9 2-9 3 6 9 6"
        fill="none"
        stroke="currentColor"
        strokeWidth="2.2"
        strokeLinecap="round"
      />
    </svg>
  )
}
