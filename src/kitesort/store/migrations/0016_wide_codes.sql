-- Codes of classes take two bytes; 255 means unclassified in every map.
ALTER TABLE land_class DROP CONSTRAINT land_class_code_check;
ALTER TABLE land_class ADD CHECK (code BETWEEN 1 AND 65535 AND code <> 255);
