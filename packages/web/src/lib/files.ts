/** How files end that hold a machine with its shapes. */
export const MACHINE_ZIP = '.yoke.zip';

/** Hands what stands behind a URL to the user as a file. */
export function downloadUrl(name: string, url: string): void {
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
}

/** Hands a text, or bytes, to the user as a file. */
export function download(name: string, content: string | Uint8Array<ArrayBuffer>, type: string): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  downloadUrl(name, url);
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** A name that every file system takes. */
export function fileName(name: string): string {
  return (
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '') || 'machine'
  );
}
