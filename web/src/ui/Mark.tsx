/** The sign of Bibliona: three books between crop marks. */
export function Mark() {
  return (
    <svg className="mark" viewBox="0 0 26 26" fill="none" aria-hidden="true">
      <path d="M0 5.5h4M5.5 0v4M26 20.5h-4M20.5 26v-4M26 5.5h-4M20.5 0v4M0 20.5h4M5.5 26v-4" stroke="currentColor" />
      <path d="M7 6h3v14H7zM11.5 6h3v14h-3z" fill="currentColor" />
      <path d="m16 7.2 2.8-.9L22 19l-2.9.9z" transform="translate(-.8 .1)" fill="var(--marigold)" stroke="var(--marigold-deep)" strokeWidth=".6" />
    </svg>
  );
}

export function RegisterMark() {
  return (
    <svg className="reg" viewBox="0 0 15 15" fill="none" stroke="currentColor" aria-hidden="true">
      <circle cx="7.5" cy="7.5" r="4" />
      <path d="M7.5 0v15M0 7.5h15" />
    </svg>
  );
}
