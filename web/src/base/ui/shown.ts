/**
 * Text in which characters that steer the direction of writing, or a terminal, are seen as what they are: a file
 * "photo‹U+202E›gnp.exe" does not pass for a picture.
 */
export const shown = (text: string) =>
  text.replace(/[\u0000-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/g, (c) => {
    const code = c.charCodeAt(0).toString(16).toUpperCase().padStart(4, "0");
    return `‹U+${code}›`;
  });
