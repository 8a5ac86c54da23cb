/** The kinds of element a person can pick; points are called vertices in code. */
export type ElementKind = 'face' | 'edge' | 'vertex';
/** Where layers live. */
export type Domain = 'vertex' | 'edge' | 'corner' | 'face';
