/** Shown while a scene, or the code of a view, is on its way. */
export const Opening = () => (
  <main className="lost" aria-busy>
    <p>Opening…</p>
  </main>
);
