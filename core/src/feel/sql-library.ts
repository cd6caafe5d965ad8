/**
 * The functions that compiled expressions call in the database, in a schema of their own. Each does what its twin in
 * memory does, to the last digit, and none raises on data: what cannot be computed is null.
 *
 * A change here is a new migration of the server that runs this text again.
 */
const numbers = `
-- PostgreSQL writes a function of SQL into the statement that calls it, which is several times as fast; not if it is STRICT,
-- unless every part of it is. So only those are STRICT that would make something of a null.
-- How many digits stand before the point; for numbers below 1, minus the zeros that follow it.
CREATE OR REPLACE FUNCTION feel.exponent(x numeric) RETURNS integer LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN x = 0 THEN 0 WHEN abs(x) >= 1 THEN length(trunc(abs(x))::text) ELSE length(ltrim(abs(x)::text, '0.')) + 2 - length(abs(x)::text) END
$$;
CREATE OR REPLACE FUNCTION feel.ten(n integer) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$ SELECT ('1e' || n)::numeric $$;
CREATE OR REPLACE FUNCTION feel.half_even(x numeric, places integer) RETURNS numeric LANGUAGE plpgsql IMMUTABLE STRICT PARALLEL SAFE AS $$
DECLARE unit numeric; cut numeric;
BEGIN
  -- A tie has one digit more than is left, a 5; anything else rounds alike in every way.
  IF places >= 0 AND min_scale(x) <> places + 1 THEN RETURN round(x, places); END IF;
  unit := feel.ten(-places); cut := trunc(x, places);
  IF abs(x - cut) * 2 < unit THEN RETURN cut; END IF;
  IF abs(x - cut) * 2 = unit AND mod(abs(cut) * feel.ten(places), 2) = 0 THEN RETURN cut; END IF;
  RETURN cut + sign(x) * unit;
END $$;
CREATE OR REPLACE FUNCTION feel.round_to(x numeric, digits integer) RETURNS numeric LANGUAGE plpgsql IMMUTABLE STRICT PARALLEL SAFE AS $$
DECLARE places integer;
BEGIN
  IF scale(x) = 0 AND abs(x) < 1e30 THEN RETURN x; END IF;
  places := digits - feel.exponent(x);
  IF min_scale(x) <= places THEN RETURN x; END IF;
  RETURN feel.half_even(x, places);
END $$;
CREATE OR REPLACE FUNCTION feel.divide(a numeric, b numeric) RETURNS numeric LANGUAGE plpgsql IMMUTABLE STRICT PARALLEL SAFE AS $$
DECLARE q numeric; ea integer; eb integer; sa integer; sb integer; enough integer; places integer;
BEGIN
  IF b = 0 THEN RETURN NULL; END IF;
  IF a = 0 THEN RETURN 0; END IF;
  q := a / b;
  -- Most divisions of a ledger end, and PostgreSQL's own result is then exact.
  IF q * b = a AND feel.exponent(q) + min_scale(q) <= 34 THEN RETURN q; END IF;
  -- Of numbers of everyday size (30 digits and no more on either side) no quotient is nearer to a tie than 1e-95.
  IF abs(a) < 1e18 AND abs(b) < 1e18 AND min_scale(a) <= 12 AND min_scale(b) <= 12 THEN
    q := round(a, 100) / b;
    places := 34 - feel.exponent(q);
    IF min_scale(q) <> places + 1 THEN RETURN trim_scale(round(q, places)); END IF;
    RETURN trim_scale(feel.half_even(q, places));
  END IF;
  ea := feel.exponent(a); eb := feel.exponent(b);
  a := trim_scale(a * feel.ten(-ea)); b := trim_scale(b * feel.ten(-eb));
  sa := scale(a); sb := scale(b);
  -- So many places that the nearest tie at 34 digits is told from the quotient (the operands lie between 0.1 and 1).
  enough := greatest(sa, 36 + sb) + 4;
  q := (a + feel.ten(-enough) - feel.ten(-enough)) / b;
  RETURN trim_scale(feel.round_to(q, 34)) * feel.ten(ea - eb);
END $$;
CREATE OR REPLACE FUNCTION feel.in_range(x numeric) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT x = 0 OR (abs(x) < 1e300 AND abs(x) > 1e-300)
$$;
CREATE OR REPLACE FUNCTION feel.power(base numeric, exponent numeric) RETURNS numeric LANGUAGE plpgsql IMMUTABLE STRICT PARALLEL SAFE AS $$
DECLARE rest integer; factor numeric; result numeric := 1;
BEGIN
  IF exponent <> trunc(exponent) OR abs(exponent) > 9999 OR (exponent < 0 AND base = 0) THEN RETURN NULL; END IF;
  rest := abs(exponent)::integer;
  factor := feel.round_to(base, 60);
  WHILE rest > 0 LOOP
    IF rest % 2 = 1 THEN result := feel.round_to(result * factor, 60); END IF;
    rest := rest / 2;
    IF rest > 0 THEN factor := feel.round_to(factor * factor, 60); END IF;
    IF NOT feel.in_range(result) OR NOT feel.in_range(factor) THEN RETURN NULL; END IF;
  END LOOP;
  result := feel.round_to(result, 34);
  IF exponent < 0 THEN RETURN feel.divide(1, result); END IF;
  RETURN result;
END $$;
CREATE OR REPLACE FUNCTION feel.sqrt(x numeric) RETURNS numeric LANGUAGE plpgsql IMMUTABLE STRICT PARALLEL SAFE AS $$
DECLARE half integer; enough integer;
BEGIN
  IF x < 0 THEN RETURN NULL; END IF;
  IF x = 0 THEN RETURN 0; END IF;
  half := feel.exponent(x) / 2;
  x := trim_scale(x * feel.ten(-2 * half));
  enough := greatest(scale(x), 80) + 4;
  RETURN trim_scale(feel.round_to(sqrt(x + feel.ten(-enough) - feel.ten(-enough)), 34)) * feel.ten(half);
END $$;
CREATE OR REPLACE FUNCTION feel.ln(x numeric) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN x > 0 THEN trim_scale(feel.round_to(ln(x + feel.ten(-least(900, 70 + scale(x))) - feel.ten(-least(900, 70 + scale(x)))), 34)) END
$$;
CREATE OR REPLACE FUNCTION feel.exp(x numeric) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN abs(x) <= 1000 THEN trim_scale(feel.round_to(exp(x + feel.ten(-600) - feel.ten(-600)), 34)) END
$$;
CREATE OR REPLACE FUNCTION feel.places(n numeric) RETURNS integer LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN n = trunc(n) AND abs(n) <= 300 THEN n::integer END
$$;
CREATE OR REPLACE FUNCTION feel.rounded(x numeric, n numeric, way text) RETURNS numeric LANGUAGE plpgsql IMMUTABLE STRICT PARALLEL SAFE AS $$
DECLARE places integer := feel.places(n); cut numeric; unit numeric; rest numeric;
BEGIN
  IF places IS NULL THEN RETURN NULL; END IF;
  IF way = 'half even' THEN
    IF places >= 0 AND min_scale(x) <> places + 1 THEN RETURN round(x, places); END IF;
    RETURN feel.half_even(x, places);
  END IF;
  cut := trunc(x, places); unit := feel.ten(-places); rest := abs(x - cut);
  CASE way
    WHEN 'down' THEN RETURN cut;
    WHEN 'up' THEN RETURN CASE WHEN rest = 0 THEN cut ELSE cut + sign(x) * unit END;
    WHEN 'half up' THEN RETURN CASE WHEN rest * 2 >= unit THEN cut + sign(x) * unit ELSE cut END;
    WHEN 'half down' THEN RETURN CASE WHEN rest * 2 > unit THEN cut + sign(x) * unit ELSE cut END;
    WHEN 'floor' THEN RETURN CASE WHEN x < 0 AND rest > 0 THEN cut - unit ELSE cut END;
    ELSE RETURN CASE WHEN x > 0 AND rest > 0 THEN cut + unit ELSE cut END;
  END CASE;
END $$;
CREATE OR REPLACE FUNCTION feel.modulo(a numeric, b numeric) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN b = 0 THEN NULL WHEN mod(a, b) <> 0 AND sign(mod(a, b)) <> sign(b) THEN mod(a, b) + b ELSE mod(a, b) END
$$;
CREATE OR REPLACE FUNCTION feel.number(t text, grouping_mark text, decimal_mark text) RETURNS numeric LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
BEGIN
  IF t IS NULL OR grouping_mark NOT IN (' ', ',', '.') OR decimal_mark NOT IN (',', '.') OR grouping_mark = decimal_mark THEN RETURN NULL; END IF;
  IF grouping_mark IS NOT NULL THEN t := replace(t, grouping_mark, ''); END IF;
  IF decimal_mark IS NOT NULL THEN t := replace(t, decimal_mark, '.'); END IF;
  IF t !~ '^-?([0-9]+([.][0-9]*)?|[.][0-9]+)$' OR length(t) > 60 OR length(ltrim(translate(t, '-.', ''), '0')) > 34 THEN RETURN NULL; END IF;
  RETURN t::numeric;
END $$;
CREATE OR REPLACE FUNCTION feel.text_of(x numeric) RETURNS text LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE AS $$ SELECT trim_scale(x)::text $$;
`;

const texts = `
-- The whole case mapping of Unicode, the same in every database: "ß" is "SS" in capitals.
CREATE OR REPLACE FUNCTION feel.upper(t text) RETURNS text LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE AS $$ SELECT upper(t COLLATE "und-x-icu") $$;
CREATE OR REPLACE FUNCTION feel.lower(t text) RETURNS text LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE AS $$ SELECT lower(t COLLATE "und-x-icu") $$;
CREATE OR REPLACE FUNCTION feel.substring(t text, start numeric, count numeric) RETURNS text LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE at numeric; size integer := length(t);
BEGIN
  IF t IS NULL OR start IS NULL OR start = 0 OR start <> trunc(start) OR count <> trunc(count) OR count < 1 THEN RETURN NULL; END IF;
  at := CASE WHEN start < 0 THEN size + start + 1 ELSE start END;
  IF at < 1 OR at > size THEN RETURN NULL; END IF;
  IF count IS NULL OR count > size THEN RETURN substr(t, at::integer); END IF;
  RETURN substr(t, at::integer, count::integer);
END $$;
CREATE OR REPLACE FUNCTION feel.before(t text, part text) RETURNS text LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE AS $$
  SELECT CASE WHEN part = '' THEN '' ELSE left(t, greatest(strpos(t, part) - 1, 0)) END
$$;
CREATE OR REPLACE FUNCTION feel.after(t text, part text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN part = '' THEN t WHEN strpos(t, part) = 0 THEN '' ELSE substr(t, strpos(t, part) + length(part)) END
$$;
CREATE OR REPLACE FUNCTION feel.ends_with(t text, part text) RETURNS boolean LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE AS $$
  SELECT right(t, length(part)) = part OR part = ''
$$;
`;

const calendar = `
CREATE OR REPLACE FUNCTION feel.day(n numeric) RETURNS date LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN n BETWEEN -719162 AND 2932896 THEN DATE '1970-01-01' + n::integer END
$$;
CREATE OR REPLACE FUNCTION feel.date(y numeric, m numeric, d numeric) RETURNS date LANGUAGE plpgsql IMMUTABLE STRICT PARALLEL SAFE AS $$
DECLARE first date;
BEGIN
  IF y <> trunc(y) OR m <> trunc(m) OR d <> trunc(d) OR y NOT BETWEEN 1 AND 9999 OR m NOT BETWEEN 1 AND 12 OR d NOT BETWEEN 1 AND 31 THEN RETURN NULL; END IF;
  first := make_date(y::integer, m::integer, 1);
  IF extract(month FROM first + (d::integer - 1)) <> m THEN RETURN NULL; END IF;
  RETURN first + (d::integer - 1);
END $$;
CREATE OR REPLACE FUNCTION feel.date(t text) RETURNS date LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN t ~ '^[0-9]{4}-[0-9]{2}-[0-9]{2}$' THEN feel.date(substr(t, 1, 4)::numeric, substr(t, 6, 2)::numeric, substr(t, 9, 2)::numeric) END
$$;
CREATE OR REPLACE FUNCTION feel.time(h numeric, m numeric, s numeric) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN h = trunc(h) AND m = trunc(m) AND h BETWEEN 0 AND 23 AND m BETWEEN 0 AND 59 AND s >= 0 AND s < 60 THEN (h * 60 + m) * 60000 + trunc(s * 1000) END
$$;
CREATE OR REPLACE FUNCTION feel.time(t text) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN t ~ '^[0-9]{2}:[0-9]{2}:[0-9]{2}([.][0-9]{1,3})?$' THEN feel.time(substr(t, 1, 2)::numeric, substr(t, 4, 2)::numeric, substr(t, 7)::numeric) END
$$;
CREATE OR REPLACE FUNCTION feel.in_moments(x timestamptz) RETURNS timestamptz LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN x >= TIMESTAMPTZ '1970-01-01 00:00:00+00' AND x < TIMESTAMPTZ '10000-01-01 00:00:00+00' THEN x END
$$;
CREATE OR REPLACE FUNCTION feel.moment(d date, ms numeric, zone text) RETURNS timestamptz LANGUAGE sql STABLE PARALLEL SAFE AS $$
  SELECT feel.in_moments((d + (ms::double precision * INTERVAL '1 millisecond')) AT TIME ZONE zone)
$$;
CREATE OR REPLACE FUNCTION feel.moment(t text, zone text) RETURNS timestamptz LANGUAGE sql STABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN t ~ '^[^T]*T[^T]*$' THEN feel.moment(feel.date(split_part(t, 'T', 1)), feel.time(split_part(t, 'T', 2)), zone) ELSE feel.moment(feel.date(t), 0, zone) END
$$;
CREATE OR REPLACE FUNCTION feel.date_of(x timestamptz, zone text) RETURNS date LANGUAGE sql STABLE PARALLEL SAFE AS $$
  SELECT feel.day(((x AT TIME ZONE zone)::date - DATE '1970-01-01')::numeric)
$$;
CREATE OR REPLACE FUNCTION feel.time_of(x timestamptz, zone text) RETURNS numeric LANGUAGE sql STABLE STRICT PARALLEL SAFE AS $$
  SELECT trunc(extract(epoch FROM (x AT TIME ZONE zone)::time) * 1000)
$$;
CREATE OR REPLACE FUNCTION feel.ms_of(x timestamptz) RETURNS numeric LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE AS $$ SELECT trunc(extract(epoch FROM x) * 1000) $$;
CREATE OR REPLACE FUNCTION feel.at_ms(n numeric) RETURNS timestamptz LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN n BETWEEN 0 AND 253402300799999 THEN TIMESTAMPTZ '1970-01-01 00:00:00+00' + trunc(n / 86400000)::integer * INTERVAL '24 hours' + mod(n, 86400000)::integer * INTERVAL '1 millisecond' END
$$;
CREATE OR REPLACE FUNCTION feel.duration(n numeric) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN abs(n) <= 316224000000000 THEN n END
$$;
CREATE OR REPLACE FUNCTION feel.months(n numeric) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$ SELECT CASE WHEN abs(n) <= 120000 THEN n END $$;
CREATE OR REPLACE FUNCTION feel.add_months(d date, n numeric) RETURNS date LANGUAGE plpgsql IMMUTABLE STRICT PARALLEL SAFE AS $$
DECLARE total numeric := extract(year FROM d) * 12 + extract(month FROM d) - 1 + n; first date;
BEGIN
  IF floor(total / 12) NOT BETWEEN 1 AND 9999 THEN RETURN NULL; END IF;
  first := make_date(floor(total / 12)::integer, mod(total, 12)::integer + 1, 1);
  RETURN first + least(extract(day FROM d)::integer, extract(day FROM first + INTERVAL '1 month' - INTERVAL '1 day')::integer) - 1;
END $$;
CREATE OR REPLACE FUNCTION feel.add_months(x timestamptz, n numeric, zone text) RETURNS timestamptz LANGUAGE sql STABLE PARALLEL SAFE AS $$
  SELECT feel.moment(feel.add_months(feel.date_of(x, zone), n), feel.time_of(x, zone), zone)
$$;
CREATE OR REPLACE FUNCTION feel.months_between(a date, b date) RETURNS numeric LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE AS $$
  SELECT CASE WHEN b < a THEN -1 ELSE 1 END * ((extract(year FROM greatest(a, b)) - extract(year FROM least(a, b))) * 12 + extract(month FROM greatest(a, b)) - extract(month FROM least(a, b)) - CASE WHEN extract(day FROM greatest(a, b)) < extract(day FROM least(a, b)) THEN 1 ELSE 0 END)
$$;
CREATE OR REPLACE FUNCTION feel.text_of_time(ms numeric) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT lpad(trunc(ms / 3600000)::text, 2, '0') || ':' || lpad(mod(trunc(ms / 60000), 60)::text, 2, '0') || ':' || lpad(mod(trunc(ms / 1000), 60)::text, 2, '0') || CASE WHEN mod(ms, 1000) = 0 THEN '' ELSE '.' || rtrim(lpad(mod(ms, 1000)::integer::text, 3, '0'), '0') END
$$;
CREATE OR REPLACE FUNCTION feel.text_of_date(d date) RETURNS text LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE AS $$
  SELECT lpad(extract(year FROM d)::text, 4, '0') || '-' || lpad(extract(month FROM d)::text, 2, '0') || '-' || lpad(extract(day FROM d)::text, 2, '0')
$$;
CREATE OR REPLACE FUNCTION feel.text_of(x timestamptz, zone text) RETURNS text LANGUAGE sql STABLE PARALLEL SAFE AS $$
  SELECT feel.text_of_date((x AT TIME ZONE zone)::date) || 'T' || feel.text_of_time(feel.time_of(x, zone))
$$;
CREATE OR REPLACE FUNCTION feel.text_of_duration(ms numeric) RETURNS text LANGUAGE plpgsql IMMUTABLE STRICT PARALLEL SAFE AS $$
DECLARE size numeric := abs(ms); d numeric := trunc(size / 86400000); rest numeric := mod(size, 86400000); h numeric := trunc(rest / 3600000); m numeric := mod(trunc(rest / 60000), 60); s numeric := mod(rest, 60000); t text;
BEGIN
  t := CASE WHEN h > 0 THEN h::text || 'H' ELSE '' END || CASE WHEN m > 0 THEN m::text || 'M' ELSE '' END || CASE WHEN s > 0 THEN trim_scale(s / 1000)::text || 'S' ELSE '' END;
  IF t <> '' THEN t := 'T' || t; END IF;
  t := CASE WHEN d > 0 THEN d::text || 'D' ELSE '' END || t;
  RETURN CASE WHEN ms < 0 THEN '-' ELSE '' END || 'P' || CASE WHEN t = '' THEN 'T0S' ELSE t END;
END $$;
CREATE OR REPLACE FUNCTION feel.text_of_months(n numeric) RETURNS text LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE AS $$
  SELECT CASE WHEN n < 0 THEN '-' ELSE '' END || 'P' || CASE WHEN n = 0 THEN '0M' ELSE CASE WHEN abs(n) >= 12 THEN trunc(abs(n) / 12)::text || 'Y' ELSE '' END || CASE WHEN mod(abs(n), 12) > 0 THEN mod(abs(n), 12)::text || 'M' ELSE '' END END
$$;
`;

const lists = `
-- Replaces each line of a text, which is an id, by the label of that id, and joins them.
CREATE OR REPLACE FUNCTION feel.lines_as(lines text, ids text[], said text[], between_them text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT string_agg(said[array_position(ids, v)], between_them ORDER BY o) FROM string_to_table(lines, E'\\n') WITH ORDINALITY AS l(v, o)
$$;
-- The lines that were one of these, as what they have become, each once and in an order. Null where none is left.
CREATE OR REPLACE FUNCTION feel.lines_become(lines text, were text[], are text[], in_order text[]) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT string_agg(v, E'\\n' ORDER BY array_position(in_order, v))
  FROM (SELECT DISTINCT are[array_position(were, l)] AS v FROM string_to_table(lines, E'\\n') AS l) AS found WHERE v IS NOT NULL
$$;
-- Reads ids or labels that are separated by semicolons or line ends. Null if one of them is unknown.
CREATE OR REPLACE FUNCTION feel.lines_of(typed text, ids text[], labels text[]) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN bool_and(at IS NOT NULL) THEN string_agg(ids[at], E'\\n' ORDER BY at) END
  FROM (SELECT DISTINCT COALESCE(array_position(ARRAY(SELECT lower(l) FROM unnest(labels) AS l), lower(trim(v))), array_position(ids, trim(v))) AS at
    FROM regexp_split_to_table(typed, '[;\\n]') AS v WHERE trim(v) <> '') AS found
$$;
`;

const addresses = `
-- The six lines of an address on one line; postcode and city go together.
CREATE OR REPLACE FUNCTION feel.address(lines text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT NULLIF(string_agg(v, ', ' ORDER BY o), '')
  FROM (SELECT trim(CASE WHEN o = 3 THEN v || ' ' || split_part(lines, E'\\n', 4) ELSE v END) AS v, o
    FROM string_to_table(lines, E'\\n') WITH ORDINALITY AS l(v, o) WHERE o <> 4) AS said
  WHERE v <> ''
$$;
`;

const formatted = `
-- A text as a formatted one: a paragraph for each of its lines.
CREATE OR REPLACE FUNCTION feel.rich_text(typed text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT '{"text":' || to_jsonb(clean)::text || ',"doc":' || jsonb_build_object('type', 'doc', 'content', jsonb_agg(
    CASE WHEN line = '' THEN '{"type":"paragraph"}'::jsonb
    ELSE jsonb_build_object('type', 'paragraph', 'content', jsonb_build_array(jsonb_build_object('type', 'text', 'text', line))) END ORDER BY o))::text || '}'
  FROM (SELECT regexp_replace(btrim(typed, E' \\n\\r\\t'), E'\\r\\n?', E'\\n', 'g') AS clean) AS cleaned, string_to_table(clean, E'\\n') WITH ORDINALITY AS l(line, o)
  WHERE clean <> '' GROUP BY clean
$$;
`;

const runningNumbers = `
-- The last number that each field gave, in all or in one year. Its row is locked until the record is saved: a save that fails leaves
-- no gap, and no two records get the same number.
CREATE TABLE IF NOT EXISTS feel.number (app text, field text, period text, last numeric NOT NULL, PRIMARY KEY (app, field, period));
-- Called with: field, column, pattern, first number, step, 'yearly' or nothing, time zone.
CREATE OR REPLACE FUNCTION feel.give_number() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  held text := to_jsonb(NEW) ->> TG_ARGV[1];
  year text := extract(year FROM now() AT TIME ZONE TG_ARGV[6])::text;
  width integer := length(substring(TG_ARGV[2] FROM '\\{(0+)\\}'));
  given numeric; parts text[]; form text; at_year integer; at_number integer;
BEGIN
  IF held IS NOT NULL THEN
    -- A number from a file counts too: the next one is larger.
    form := '^' || replace(regexp_replace(regexp_replace(TG_ARGV[2], '([.*+?^$()|\\[\\]\\\\])', '\\\\\\1', 'g'), '\\{0+\\}', '([0-9]{1,18})'), '{year}', '([0-9]{4})') || '$';
    parts := regexp_match(held, form);
    IF parts IS NULL THEN RETURN NEW; END IF;
    at_year := CASE WHEN position('{year}' IN TG_ARGV[2]) = 0 THEN NULL WHEN position('{year}' IN TG_ARGV[2]) < position('{0' IN TG_ARGV[2]) THEN 1 ELSE 2 END;
    at_number := CASE WHEN at_year = 1 THEN (length(TG_ARGV[2]) - length(replace(TG_ARGV[2], '{year}', ''))) / 6 + 1 ELSE 1 END;
    INSERT INTO feel.number AS n VALUES (TG_TABLE_SCHEMA, TG_ARGV[0], CASE WHEN TG_ARGV[5] = 'yearly' THEN parts[at_year] ELSE '' END, parts[at_number]::numeric)
      ON CONFLICT (app, field, period) DO UPDATE SET last = greatest(n.last, excluded.last) WHERE n.last < excluded.last;
    RETURN NEW;
  END IF;
  INSERT INTO feel.number AS n VALUES (TG_TABLE_SCHEMA, TG_ARGV[0], CASE WHEN TG_ARGV[5] = 'yearly' THEN year ELSE '' END, TG_ARGV[3]::numeric)
    ON CONFLICT (app, field, period) DO UPDATE SET last = greatest(n.last + TG_ARGV[4]::numeric, TG_ARGV[3]::numeric) RETURNING last INTO given;
  RETURN jsonb_populate_record(NEW, jsonb_build_object(TG_ARGV[1], replace(regexp_replace(TG_ARGV[2], '\\{0+\\}', lpad(given::text, greatest(width, length(given::text)), '0')), '{year}', year)));
END $$;
`;

/** The statements that make the schema `feel` and its functions, or bring them up to date. */
export const sqlLibrary: readonly string[] = [`CREATE SCHEMA IF NOT EXISTS feel`, numbers, texts, calendar, lists, addresses, formatted, runningNumbers];
