/** Hands somebody a file made in the page. @param name with its ending @param type its media type */
export function download(name: string, content: string, type: string): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  // the browser has taken it by the next turn
  setTimeout(() => {
    URL.revokeObjectURL(url);
  }, 1000);
}
