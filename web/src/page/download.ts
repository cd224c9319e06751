/** Bring a file of the service to the person, without leaving the page. */
export function download(address: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = '';
  link.click();
}
