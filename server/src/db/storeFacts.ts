/** What `store_facts` ends with where there is no such job, and where an id stands for another fact. */
export const NO_JOB = 'KF404';
export const OTHER_FACTS = 'KF409';

/**
 * Appends facts to a job in one statement: each that is not there yet once, in their order. All of them, or none where an id
 * stands for something else; which ones is told as the error's detail.
 */
export const STORE_FACTS = `
  CREATE FUNCTION store_facts(job uuid, facts_sent jsonb) RETURNS integer LANGUAGE plpgsql AS $$
    DECLARE
      stored integer;
      others text;
    BEGIN
      -- those who write to a job take their turns: what is counted is what was stored, and nobody waits for nobody
      PERFORM 1 FROM jobs WHERE id = job FOR UPDATE;
      IF NOT FOUND THEN
        RAISE EXCEPTION 'no such job' USING ERRCODE = '${NO_JOB}';
      END IF;
      WITH sent AS (
        SELECT (e->>'id')::uuid AS id, e AS body, n FROM jsonb_array_elements(facts_sent) WITH ORDINALITY AS x(e, n)
      )
      INSERT INTO facts (id, job_id, kind, at, by, body)
        SELECT s.id, job, s.body->>'kind', (s.body->>'at')::timestamptz, (s.body->>'by')::uuid, s.body FROM sent s
          WHERE s.n = (SELECT min(o.n) FROM sent o WHERE o.id = s.id) AND NOT EXISTS (SELECT 1 FROM facts f WHERE f.id = s.id)
          ORDER BY s.n
        ON CONFLICT (id) DO NOTHING;
      GET DIAGNOSTICS stored = ROW_COUNT;
      -- a statement of its own: it sees what others stored meanwhile
      SELECT string_agg(e->>'id', ' ') INTO others FROM jsonb_array_elements(facts_sent) AS x(e)
        WHERE NOT EXISTS (SELECT 1 FROM facts f WHERE f.id = (e->>'id')::uuid AND f.body = e);
      IF others IS NOT NULL THEN
        RAISE EXCEPTION 'ids of other facts' USING ERRCODE = '${OTHER_FACTS}', DETAIL = others;
      END IF;
      RETURN stored;
    END $$`;
