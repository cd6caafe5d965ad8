/** The nonce of this page, which lets style elements of ours and nobody else's apply. Empty under the development server. */
export const styleNonce = document.querySelector<HTMLMetaElement>('meta[name=style-nonce]')?.content ?? '';
