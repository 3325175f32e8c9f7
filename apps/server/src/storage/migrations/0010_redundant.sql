-- A check has the field's word: frames that may be left out are redundant.
UPDATE cards SET sorting = replace(sorting, '"check":"adds-nothing"', '"check":"redundant"') WHERE sorting IS NOT NULL;
