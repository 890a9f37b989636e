/** Has the browser save a file under a name. */
export function saveFile(content: BlobPart, type: string, name: string): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name.replace(/[\p{Cc}\\/:*?"<>|]/gu, '_');
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
