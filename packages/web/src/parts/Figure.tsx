/** A figure with its unit in a quieter tone. */
export function Figure({ value, unit, digits }: { value: number | null | undefined; unit?: string; digits: number }) {
  if (value === null || value === undefined) return <span className="fig quiet">–</span>
  return (
    <span className="fig">
      {value.toFixed(digits)}
      {unit && <span className="unit"> {unit}</span>}
    </span>
  )
}
