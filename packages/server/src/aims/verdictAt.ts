/** What is said of a row at a time (one parameter), as core’s verdictNow says it. */
export const verdictAt = `CASE WHEN judged_at IS NULL THEN 'unproven' WHEN ? > lapses_at THEN 'lapsed' ELSE verdict END`
/** Its place among verdicts, the worst first; one parameter. */
export const worstness = `CASE ${verdictAt} WHEN 'outside' THEN 0 WHEN 'untold' THEN 1 WHEN 'lapsed' THEN 2 WHEN 'unproven' THEN 3 WHEN 'near' THEN 4 ELSE 5 END`
