-- A delivered band's pixel size is in units of its coordinate system, which need not be metres.
UPDATE layer SET recipe = replace(recipe::text, '"resolution_m"', '"pixel_size"')::jsonb
WHERE strpos(recipe::text, '"resolution_m"') > 0;
