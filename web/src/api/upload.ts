/** A file as the body of a request. */
export const upload = (file: File) => ({
  // What the types ask for; the form takes its place.
  body: { file: '' },
  bodySerializer: (): FormData => {
    const form = new FormData();
    form.append('file', file);
    return form;
  },
});
