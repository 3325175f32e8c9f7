-- What an inspection knows of a merge was a list of numbers of focus stacks; it is kept by layer of evidence now.
UPDATE merges
SET body = json_remove(
  json_set(
    body,
    '$.inspection',
    json(CASE
      WHEN json_type(body, '$.calibration') = 'object' THEN json_object(
        'axis', json(json_extract(body, '$.axis')),
        'surveys', json_object(),
        'yardsticks', json_object(
          'explanation', NULL,
          'sharpness', json_object(
            'centre', json_extract(body, '$.calibration.ratioCentre'),
            'spread', json_extract(body, '$.calibration.ratioSpread')
          ),
          'unexplained', NULL,
          'focus', json_object(
            'curvature', json_extract(body, '$.calibration.curvature'),
            'typicalVariance', json_extract(body, '$.calibration.typicalVariance')
          ),
          'spill', json_object(
            'nearSide', json_extract(body, '$.calibration.nearSide'),
            'nearSideSure', json_extract(body, '$.calibration.nearSideSure')
          ),
          'rim', NULL,
          'sensorSpots', NULL
        )
      )
      ELSE 'null'
    END)
  ),
  '$.axis',
  '$.calibration'
);
