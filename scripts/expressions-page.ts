/** The page about expressions for builders, made from the same tables that the checker, the engines and the help read. */
import { builtIns, deviations, groups, leftOut } from '@bibliona/core';

const introduction = `# Expressions

Defaults, checks, formulas, captions and conditions are all written in one language: FEEL, the open expression language of
OMG's standard DMN 1.5. The same text gives the same answer in a form, in a list and in the database, to the last digit.
This page is made by \`npm run docs\` from the tables that the product itself reads; the examples speak of the honey
co-operative.

## Naming things

| written | means |
| --- | --- |
| \`Mites counted\` | a field of the record; names may have spaces |
| \`Hive.Apiary.Region\` | walking along references: the region of the apiary of the hive |
| \`Address.city\`, \`Location.latitude\` | a part of a value: addresses have street, extra, postcode, city, region and country, places latitude and longitude |
| \`Assigned to.mail\`, \`Handed over.at\` | people have a name and a mail, signatures a by and an at |
| \`Inspections\` | the children of the record, as a list |
| \`Inspections.Date\` | the dates of all of them |
| \`Inspections[Mites counted > 10]\` | those of them that meet a condition |
| \`Inspections[1]\`, \`Inspections[-1]\` | the first, the last |
| \`me.Name\`, \`me.Mail\`, \`me.Roles\` | the person who looks or saves |
| \`created by me()\`, \`record number(Apiary)\` | whether that person created the record; the number that a record has here |
| \`today()\`, \`now()\` | the date, the date and time in the time zone of the app |

Marks that FEEL has no place for are left out of a name: the field *Brood, %* is written \`Brood\`. A name that begins with a
digit or a word of the language gets an underscore. Where two fields would come to the same name, each is called as its
column is called in the database. Renaming a field, a list of children or a choice rewrites every expression that names it.

## Writing values

| written | means |
| --- | --- |
| \`12.5\`, \`-3\` | numbers: exact, up to 34 digits |
| \`"jar"\` | a text; \`\\"\` is a quote in it |
| \`true\`, \`false\`, \`null\` | yes, no, empty |
| \`date("2026-05-01")\` or \`@"2026-05-01"\` | a date |
| \`time("09:30:00")\`, \`date and time("2026-05-01T09:30:00")\` | a time, a date and time |
| \`duration("P7D")\`, \`duration("PT90M")\`, \`duration("P1Y6M")\` | 7 days, 90 minutes, a year and a half |
| \`[1, 2, 3]\`, \`[1..10]\`, \`(0..1]\` | a list, a range, a range without its beginning |

## Putting them together

| written | means |
| --- | --- |
| \`Quantity * Unit price\`, \`+ - * / **\` | calculating; a division by zero is empty |
| \`Name + " · " + Apiary.Name\` | joining texts; other values become texts by \`string( )\` |
| \`Stores = "Low"\`, \`!= < <= > >=\` | comparing |
| \`Queen year between 2022 and 2026\`, \`Stores in ("Low", "Fair")\` | the same, shorter |
| \`Date > today() - duration("P30D") and not(Queen seen)\` | \`and\`, \`or\`, \`not( )\` |
| \`if Bees sampled > 0 then Mites counted / Bees sampled else null\` | choosing |
| \`some f in Frames checked satisfies f.Brood > 40\` | whether at least one does; \`every\`: whether all do |
| \`for f in Frames checked return f.Brood + f.Stores\` | something of each, as a list |
| \`sort(Inspections, function(a, b) a.Date < b.Date)\` | in an order |

Empty goes through: what is calculated from an empty value is empty, a comparison of size with it is neither true nor
false, and \`sum\` of a list in which one is empty is empty. A check that is neither true nor false is met; a condition
lists only what is true.
`;

const cell = (text: string): string => text.replaceAll('|', '\\|');

function page(): string {
  const parts = groups.map((group) => {
    const rows = builtIns
      .filter((builtIn) => builtIn.group === group)
      .map((builtIn) => {
        const call = `${builtIn.name}(${builtIn.parameters.map((each) => (each.optional === true ? `${each.name}?` : each.name)).join(', ')})`;
        const [example] = builtIn.examples;
        return `| \`${call}\` | ${cell(builtIn.help)} | ${example === undefined ? '' : `\`${cell(example[0])}\` is \`${cell(example[1])}\``} |`;
      });
    return `### ${group}\n\n| function | gives | example |\n| --- | --- | --- |\n${rows.join('\n')}\n`;
  });
  const missing = Object.entries(leftOut).map(([name, why]) => `| \`${name}\` | ${cell(why)} |`);
  const others = deviations.map((deviation) => `| \`${deviation.expression}\` | \`${deviation.here}\` | ${cell(deviation.why)} | ${deviation.clause} |`);
  return `${introduction}
## Functions

${parts.join('\n')}
## What is not there

What one of the two engines could not do exactly as the other is refused where it is written, with the reason.

| function of FEEL | why not |
| --- | --- |
${missing.join('\n')}

Dates and times are always in the time zone of the app, without zones of their own, from 1970 on. Patterns of \`matches\`,
\`replace\` and \`split\` stand written out; those of \`replace\` and \`split\` must match a text in one way only. Powers have whole
exponents and end at 10^300. Products and sums are exact beyond the 34 digits at which the standard would round them; what
is divided, or drawn a root of, is rounded to 34.

## Where other interpreters differ

Held against feelin, an interpreter of FEEL in JavaScript, in the tests: the answers are the same but for these kinds.

| expression | here | why | DMN 1.5 |
| --- | --- | --- | --- |
${others.join('\n')}
`;
}

export const expressionsPage = page();
