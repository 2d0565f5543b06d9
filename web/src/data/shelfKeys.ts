/** A key names a shelf, and after this what stands in a cupboard already. */
export const KEY_PARTS = '/';
