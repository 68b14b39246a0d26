/** The first stop of the keyboard on a page: past what stands above the work. */
export function SkipLink() {
  return (
    <a href="#main" className="act absolute top-1 left-1 z-50 -translate-y-20 focus:translate-y-0">
      Skip to the work
    </a>
  );
}
