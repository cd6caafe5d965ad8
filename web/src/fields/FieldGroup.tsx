import { useId, type HTMLAttributes, type ReactNode } from 'react';
import type { FieldInputProps } from './kind.js';

type Props = Pick<FieldInputProps, 'field' | 'isInRow'> & {
  readonly onBlur?: () => void;
  readonly problems: readonly string[];
  readonly className: string;
  readonly children: ReactNode;
} & Omit<HTMLAttributes<HTMLDivElement>, 'onBlur'>;

/** A field that has several inputs: under its name, with what is wrong with it below. */
export function FieldGroup({ field, isInRow, problems, className, children, ...rest }: Props) {
  const label = useId();
  return (
    <div role="group" aria-labelledby={isInRow ? undefined : label} aria-label={isInRow ? field.name : undefined} className={className} {...rest}>
      {!isInRow && (
        <span className="worked-out-label" id={label}>
          {field.name}
          {field.required && <span className="need"> *</span>}
        </span>
      )}
      {children}
      {problems.map((text) => (
        <p key={text} className="field-problem" role="alert">
          {text}
        </p>
      ))}
      {problems.length === 0 && !isInRow && field.description !== '' && <p className="q sm">{field.description}</p>}
    </div>
  );
}
