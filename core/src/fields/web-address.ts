import { z } from 'zod';
import { formedText } from './formed-text.js';
import { common, Default, type FieldKind } from './kind.js';
import { textTraits } from './read-text.js';

const shape = z.object({ kind: z.literal('web_address'), ...common, default: Default });

export const webAddress = {
  word: 'Web address',
  description: 'opens in a new tab when pressed',
  named: /\b(?:web ?site|web ?page|web address|url|home ?page|link)\b/iu,
  shape,
  traits: textTraits,
  ...formedText({
    wanted: 'a web address. Write it like www.example.org or https://example.org/page',
    most: 2000,
    // Nothing but pages: an address that runs a script, or reads a file, is none.
    pattern: '^https?://[^\\s/?#@:"<>\\\\()\\[\\]]+\\.[^\\s/?#@:"<>\\\\()\\[\\]]+(?::[0-9]{1,5})?(?:[/?#][^\\s"<>\\\\]*)?$',
    sign: /^(?:https?:\/\/|www\.)/iu,
    clean: (typed) => (/^https?:\/\//iu.test(typed) ? typed : `https://${typed}`),
    normal: (text) => text.replace(/^[^/]*\/\/[^/?#]*/u, (start) => start.toLowerCase()),
    cleanSql: (text) => `(CASE WHEN ${text} ~* '^https?://' THEN ${text} ELSE 'https://' || ${text} END)`,
    normalSql: (text) => `lower(substring(${text} from '^[^/]*//[^/?#]*')) || substring(${text} from '^[^/]*//[^/?#]*(.*)$')`,
  }),
  link: (value) => (typeof value === 'string' ? value : null),
  sample: {
    settings: [{}, { unique: true }],
    values: (fc) =>
      fc
        .tuple(
          fc.constantFrom('http', 'https'),
          fc.stringMatching(/^[a-z][a-z0-9-]{0,10}$/u),
          fc.stringMatching(/^(\/[A-Za-z0-9_.~%-]{0,6}){0,3}(\?[a-z]=[0-9]{1,3})?$/u),
        )
        .map(([scheme, host, path]) => `${scheme}://${host}.example.org${path}`),
  },
} as const satisfies FieldKind<z.infer<typeof shape>>;
