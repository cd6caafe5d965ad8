import { signatureBox, whenSigned, type Signature } from '@bibliona/core';
import { locale } from '../state/locale.js';

const { width, height } = signatureBox;

/** A signature as it was drawn, with who and when where that is known. */
export function SignatureView({ signature, name }: { readonly signature: Signature; readonly name: string }) {
  const { path, by, at } = signature;
  return (
    <span className="signature">
      <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={by === '' ? name : `${name}: signed by ${by}`}>
        <path d={path} />
      </svg>
      {by !== '' && (
        <span className="signature-by" title={`${by}, ${whenSigned(at, locale())}`}>
          {by}, {whenSigned(at, locale())}
        </span>
      )}
    </span>
  );
}
