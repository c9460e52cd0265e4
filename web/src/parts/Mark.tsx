/** The mark: plates one above the other, one of them warm. */
export function Mark() {
  return (
    <svg width="26" height="24" viewBox="0 0 26 24" aria-hidden="true">
      <rect x="0" y="1" width="20" height="4.4" fill="var(--heat-0)" />
      <rect x="3" y="7" width="20" height="4.4" fill="var(--heat-1)" />
      <rect x="6" y="13" width="20" height="4.4" fill="var(--heat-3)" />
      <rect x="3" y="19" width="20" height="4.4" fill="var(--ink)" />
    </svg>
  );
}
