/** Opens the browser's own dialog for one file of the given kinds. */
export function chooseFile(accept: string, take: (file: File) => void): void {
  const chooser = document.createElement('input');
  chooser.type = 'file';
  chooser.accept = accept;
  chooser.onchange = () => {
    if (chooser.files?.[0]) take(chooser.files[0]);
  };
  chooser.click();
}
