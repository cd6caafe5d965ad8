import { z } from 'zod';
import { formedText } from './formed-text.js';
import { common, Default, type FieldKind } from './kind.js';
import { textTraits } from './read-text.js';

const shape = z.object({ kind: z.literal('mail_address'), ...common, default: Default });

const label = '[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?';

export const mailAddress = {
  word: 'Mail address',
  description: 'opens a new mail when pressed',
  named: /\b(?:e-?)?mail\b/iu,
  shape,
  traits: textTraits,
  ...formedText({
    wanted: 'a mail address. Write it like anna@example.org',
    most: 254,
    // Of an HTML input for mail addresses (HTML standard, 4.10.5.1.5), whose domain has a dot: without one it is a slip.
    pattern: `^[a-z0-9.!#$%&'*+/=?^_\`{|}~-]+@(?:${label}\\.)+[a-z0-9-]*[a-z][a-z0-9-]*$`,
    sign: /@/u,
    // As mail programs copy an address.
    clean: (typed) => (/<([^<>]*)>$/u.exec(typed)?.[1] ?? typed).replace(/^mailto:/iu, ''),
    // Capitals make no difference in the domain; before the @ they can.
    normal: (text) => text.slice(0, text.indexOf('@')) + text.slice(text.indexOf('@')).toLowerCase(),
    cleanSql: (text) => `regexp_replace(regexp_replace(${text}, '^.*<([^<>]*)>$', '\\1'), '^mailto:', '', 'i')`,
    normalSql: (text) => `split_part(${text}, '@', 1) || '@' || lower(split_part(${text}, '@', 2))`,
  }),
  link: (value) => (typeof value === 'string' ? `mailto:${encodeURIComponent(value).replace('%40', '@')}` : null),
  sample: {
    settings: [{}, { unique: true }],
    values: (fc) =>
      fc
        .tuple(fc.stringMatching(/^[A-Za-z0-9.+_-]{1,12}$/u), fc.stringMatching(/^[a-z][a-z0-9]{0,8}$/u), fc.constantFrom('org', 'example', 'co'))
        .map(([before, domain, end]) => `${before}@${domain}.${end}`),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
