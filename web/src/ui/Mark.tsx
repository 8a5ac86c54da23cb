/** Urnsmith's mark. */
export const Mark = () => (
  <svg viewBox="0 0 24 24" width="20" height="20" aria-hidden>
    <path
      d="M7 3h10M8 3c0 3-4 4-4 9 0 4 3 7 5 9h6c2-2 5-5 5-9 0-5-4-6-4-9"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.8"
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  </svg>
);
