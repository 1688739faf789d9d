/** Of a mutation whose failure is shown beside what was pressed, and not at the foot of the page. */
export const beside = { meta: { beside: true } };
