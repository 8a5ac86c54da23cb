/** The kinds of element a person can pick; points are called vertices in code. */
export type ElementKind = 'face' | 'edge' | 'vertex';
/** The domains of layers. */
export type Domain = 'vertex' | 'edge' | 'corner' | 'face';
