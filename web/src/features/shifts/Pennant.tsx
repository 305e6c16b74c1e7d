/** The mark of what is out of its window: a flag, beside words that say the same. */
export function Pennant() {
  return (
    <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden style={{ flexShrink: 0 }}>
      <path d="M2 0.5 V11.5 M2 1 L11 4 L2 7 Z" fill="var(--chakra-colors-fault)" stroke="var(--chakra-colors-fault)" strokeWidth="1.4" />
    </svg>
  );
}
