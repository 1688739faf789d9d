/** A file, or what stands for one, as the body of a request. The API's description calls bytes a string. */
export const bytes = (file: Blob | string, mediaType = "application/octet-stream") => ({
  body: file as string,
  bodySerializer: () => file,
  headers: { "Content-Type": mediaType },
});
