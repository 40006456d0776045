/** Gradients and hatchings that every drawing refers to; stands once in the page. */
export function Paints() {
  return (
    <svg width="0" height="0" className="absolute" aria-hidden="true">
      <defs>
        <linearGradient id="rb-sheath" x1="0" y1="0" x2="0" y2="1">
          <stop offset="0" stopColor="var(--sheath)" />
          <stop offset="0.42" stopColor="var(--sheath-light)" />
          <stop offset="1" stopColor="var(--sheath)" />
        </linearGradient>
        <linearGradient id="rb-metal" x1="0" y1="0" x2="0" y2="1">
          <stop offset="0" stopColor="var(--metal-dark)" />
          <stop offset="0.4" stopColor="#dfe5e8" />
          <stop offset="1" stopColor="var(--metal-dark)" />
        </linearGradient>
        <pattern
          id="rb-armour"
          width="6"
          height="6"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(62)"
        >
          <rect width="6" height="6" fill="var(--metal)" />
          <rect width="6" height="1.6" fill="var(--metal-dark)" />
        </pattern>
        <pattern
          id="rb-gy"
          width="14"
          height="14"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(40)"
        >
          <rect width="14" height="14" fill="#4f8a34" />
          <rect width="6" height="14" fill="#d8c23a" />
        </pattern>
        <Strands id="rb-strand" metal="var(--copper)" lay="#8f5730" />
        <Strands id="rb-grey-strand" metal="var(--metal)" lay="var(--metal-dark)" />
      </defs>
    </svg>
  )
}

/** Strands in their lay. */
function Strands({ id, metal, lay }: { id: string; metal: string; lay: string }) {
  return (
    <pattern id={id} width="5" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(-24)">
      <rect width="5" height="4" fill={metal} />
      <rect width="5" height="1" fill={lay} />
    </pattern>
  )
}
