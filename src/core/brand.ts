declare const brand: unique symbol;

/** A value whose type carries proof of what it is, so that it cannot be mixed with a plain one by accident. */
export type Brand<T, Name extends string> = T & { readonly [brand]: Name };
