/** Whether a key press belongs to a field or a dialog rather than to the page. */
export function isTyping(e: KeyboardEvent): boolean {
  if (e.ctrlKey || e.metaKey || e.altKey || e.defaultPrevented) return true;
  const t = e.target;
  return (
    t instanceof HTMLElement &&
    t.closest('input, textarea, select, [contenteditable], [role="dialog"], [role="menu"]') !== null
  );
}
