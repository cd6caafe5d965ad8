import { signatureBox, type Signature } from '@bibliona/core';
import { locale } from '../state/locale.js';

const { width, height } = signatureBox;

export const whenSigned = (at: string): string => {
  const [day = '', time = ''] = locale().wall(at).split(' ');
  return `${locale().date(day)}, ${locale().clock(time)}`;
};

/** A signature as it was drawn, with who and when where that is known. */
export function SignatureView({ signature, name }: { readonly signature: Signature; readonly name: string }) {
  const { path, by, at } = signature;
  return (
    <span className="signature">
      <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={by === '' ? name : `${name}: signed by ${by}`}>
        <path d={path} />
      </svg>
      {by !== '' && (
        <span className="signature-by" title={`${by}, ${whenSigned(at)}`}>
          {by}, {whenSigned(at)}
        </span>
      )}
    </span>
  );
}
