/** The choices of which records people see. */
export function SightOptions() {
  return (
    <>
      <option value="">everyone’s</option>
      <option value="team">their team’s</option>
      <option value="own">their own</option>
    </>
  );
}
