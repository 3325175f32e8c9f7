-- What is known of a merge was one list for all kinds, with places that only one of them fills; it is a union by kind now.
WITH kinds AS (
  SELECT
    merges.id,
    CASE
      WHEN json_type(body, '$.cameras') = 'object' THEN 'panorama'
      WHEN body ->> '$.frames[0].geometry.model' = 'rotating-camera' THEN 'panorama'
      WHEN json_type(body, '$.frames[0].ev') IN ('integer', 'real') THEN 'bracket'
      WHEN jobs.kind = 'bracket' THEN 'bracket'
      ELSE 'focus-stack'
    END AS kind,
    json_object(
      'failed', json(coalesce(body -> '$.facts.failed', '[]')),
      'remarks', json(coalesce(body -> '$.facts.remarks', '[]')),
      'bendPx', json(coalesce(body -> '$.facts.bendPx', 'null'))
    ) AS said,
    -- Merges made before models could be chosen were fitted by similarities.
    coalesce(body ->> '$.facts.model', 'similarity') AS model,
    CASE
      WHEN json_type(body, '$.facts.parts') = 'integer' THEN
        json_object('parts', body -> '$.facts.parts', 'lengthPx', body -> '$.facts.bordersPx')
      ELSE 'null'
    END AS borders
  FROM merges JOIN jobs ON jobs.id = merges.job_id
)
UPDATE merges
SET body = json_remove(
  json_set(
    body,
    '$.facts',
    json((
      SELECT CASE kind
        WHEN 'panorama' THEN
          json_set(
            said,
            '$.kind', kind,
            '$.borders', json(borders),
            '$.composed', json(coalesce(body -> '$.facts.panorama', 'null')),
            '$.cameras', json(coalesce(body -> '$.cameras', 'null'))
          )
        WHEN 'bracket' THEN
          json_set(
            said,
            '$.kind', kind,
            '$.model', model,
            '$.moving', json(coalesce(body -> '$.facts.moving', 'null')),
            '$.evs', json((
              SELECT json_group_array(json(coalesce(value -> '$.ev', '0'))) FROM json_each(body, '$.frames')
            ))
          )
        ELSE
          json_set(
            said,
            '$.kind', kind,
            '$.model', model,
            '$.borders', json(borders),
            '$.focus', json(coalesce(body -> '$.inspection.axis', 'null'))
          )
        END
      FROM kinds WHERE kinds.id = merges.id
    )),
    '$.frames',
    json((
      SELECT json_group_array(json_remove(value, '$.ev', '$.focusPosition')) FROM json_each(body, '$.frames')
    ))
  ),
  '$.cameras',
  '$.inspection.axis'
);
