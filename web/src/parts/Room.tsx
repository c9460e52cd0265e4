/** Room in a table for its rows that are not drawn. */
export function Room({ height }: { height: number }) {
  if (height <= 0) return null;
  return (
    <tr>
      <td style={{ height }} className="p-0" />
    </tr>
  );
}
