import Button from '@mui/material/Button';
import { longestPath, signatureBox, signatureIn } from '@bibliona/core';
import { useEffect, useRef, useState, type PointerEvent, type Ref } from 'react';
import { FieldGroup } from './FieldGroup.js';
import { textOf, type FieldInputProps, type FieldOf } from './kind.js';
import { SignatureView } from './SignatureView.js';

const { width, height } = signatureBox;
/** In units of the box: nearer points add nothing that is seen. */
const leastStep = 2;
/** For who can't draw: who and when are kept all the same. */
const plainLine = `M20 70L${width - 20} 70`;

/** A signature that is drawn with a pointer or a finger, or the one that is here. */
export function SignatureInput(props: FieldInputProps<FieldOf<'signature'>>) {
  const { field, value, onChange, onBlur, problem, isInRow, inputRef } = props;
  const signed = signatureIn(textOf(value));
  const [isDrawing, setDrawing] = useState(false);
  // The stroke on its way: the form is told of it when the pointer is lifted.
  const [stroke, setStroke] = useState('');
  const last = useRef<readonly [number, number] | null>(null);
  const pad = useRef<SVGSVGElement>(null);
  const isOpen = isDrawing || (signed !== null && signed.by === '');
  const [hadFocus, setHadFocus] = useState(false);
  useEffect(() => {
    if (isDrawing && !hadFocus) {
      pad.current?.focus();
      setHadFocus(true);
    }
  }, [isDrawing, hadFocus]);
  const before = signed !== null && signed.by === '' ? signed.path : '';
  const pointOf = (event: PointerEvent<SVGSVGElement>): readonly [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    const within = (part: number, most: number): number => Math.round(Math.max(0, Math.min(1, part)) * most);
    return [within((event.clientX - box.left) / box.width, width), within((event.clientY - box.top) / box.height, height)];
  };
  const end = (): void => {
    if (last.current === null) return;
    last.current = null;
    const path = before + stroke;
    setStroke('');
    if (path.length <= longestPath) onChange(path);
  };
  const close = (path: string): void => {
    setDrawing(false);
    setHadFocus(false);
    onChange(path);
  };
  return (
    <FieldGroup field={field} isInRow={isInRow} problems={problem === undefined ? [] : [problem]} className="signature-input" onBlur={onBlur}>
      {isOpen ? (
        <svg
          ref={pad}
          className="signature-pad"
          viewBox={`0 0 ${width} ${height}`}
          role="img"
          aria-label={`Sign here for ${field.name}`}
          tabIndex={-1}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            const [x, y] = pointOf(event);
            last.current = [x, y];
            // A dot is drawn too.
            setStroke(`M${x} ${y}L${Math.min(width, x + 1)} ${y}`);
          }}
          onPointerMove={(event) => {
            const { current } = last;
            if (current === null) return;
            const [x, y] = pointOf(event);
            if (Math.hypot(x - current[0], y - current[1]) < leastStep) return;
            last.current = [x, y];
            setStroke((drawn) => `${drawn}L${x} ${y}`);
          }}
          onPointerUp={end}
          onPointerCancel={end}
        >
          <path className="signature-line" d={`M20 78H${width - 20}`} />
          {before + stroke !== '' && <path d={before + stroke} />}
        </svg>
      ) : (
        signed !== null && <SignatureView signature={signed} name={field.name} />
      )}
      <div className="files-add">
        {isOpen ? (
          <>
            <Button onClick={() => close('')}>{before === '' ? 'Cancel' : 'Clear'}</Button>
            {before === '' && <Button onClick={() => onChange(plainLine)}>Sign without drawing</Button>}
            <span className="q sm">Your name and the time are kept when you save.</span>
          </>
        ) : (
          <Button ref={inputRef as unknown as Ref<HTMLButtonElement>} variant="outlined" onClick={() => setDrawing(true)}>
            {signed === null ? (isInRow ? 'Sign' : `Sign ${field.name}`) : 'Sign again'}
          </Button>
        )}
        {signed !== null && signed.by !== '' && !isOpen && <Button onClick={() => onChange('')}>Remove</Button>}
      </div>
    </FieldGroup>
  );
}
