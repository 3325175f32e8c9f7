-- Where a frame lies was a similarity beside an optional view; it is one geometry now.
UPDATE merges
SET body = json_set(
  body,
  '$.frames',
  (
    SELECT json_group_array(
      json_set(
        json_remove(value, '$.toMerge', '$.view'),
        '$.geometry',
        json(CASE
          WHEN json_type(value, '$.view') = 'object' THEN json_extract(value, '$.view')
          ELSE json_object('model', 'similarity', 'toMerge', json(json_extract(value, '$.toMerge')))
        END)
      )
    )
    FROM json_each(body, '$.frames')
  )
)
WHERE json_type(body, '$.frames[0].toMerge') = 'object';
