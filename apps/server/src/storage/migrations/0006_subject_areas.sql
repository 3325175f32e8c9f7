-- A subject was a bare polygon; it is an area of shapes now, or the sharp part of a frame, among the settings of the alignment.
UPDATE merges
SET body = json_set(
  json_remove(body, '$.subject'),
  '$.alignment',
  json_object(
    'subject',
    json_object(
      'shapes',
      json(CASE
        WHEN json_array_length(body, '$.subject') > 0
        THEN json_array(json_object('kind', 'polygon', 'corners', json_extract(body, '$.subject')))
        ELSE json_array()
      END)
    )
  )
)
WHERE json_type(body, '$.subject') IS NOT NULL;

UPDATE work
SET payload = json_set(
  json_remove(payload, '$.subject'),
  '$.alignment',
  json_object(
    'subject',
    json_object(
      'shapes',
      json(CASE
        WHEN json_array_length(payload, '$.subject') > 0
        THEN json_array(json_object('kind', 'polygon', 'corners', json_extract(payload, '$.subject')))
        ELSE json_array()
      END)
    )
  )
)
WHERE kind = 'process' AND json_type(payload, '$.subject') IS NOT NULL;
