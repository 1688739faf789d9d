/**
 * The format of documents, figures and steps in this page, and in what it keeps, as core/document counts it (a test of
 * web/ compares them). Older ones are read up.
 */
export const format = 10;
