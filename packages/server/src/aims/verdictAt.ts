/** What is said of a row at a time (one parameter), as core’s verdictNow says it. */
export const verdictAt = `CASE WHEN judged_at IS NULL THEN 'unproven' WHEN ? > lapses_at THEN 'lapsed' ELSE verdict END`
/** Its place among verdicts, the worst first; one parameter. */
export const worstness = `CASE ${verdictAt} WHEN 'outside' THEN 0 WHEN 'lapsed' THEN 1 WHEN 'unproven' THEN 2 WHEN 'near' THEN 3 ELSE 4 END`
