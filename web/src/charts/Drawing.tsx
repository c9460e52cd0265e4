import type { MouseEvent, SVGProps } from "react";
import { lettersScale } from "@/charts/useWidth";

type Props = Omit<SVGProps<SVGSVGElement>, "width" | "height"> & { width: number; height: number };

/** A drawing as large as its reader's letters: all of it grows with them. */
export function Drawing({ width, height, className = "", ...rest }: Props) {
  const scale = lettersScale();
  return (
    <svg
      {...rest}
      width={width * scale}
      height={height * scale}
      viewBox={`0 0 ${width} ${height}`}
      className={`block ${className}`}
    />
  );
}

/** Where in its drawing something was pressed. */
export function placeIn(svg: SVGSVGElement, { clientX, clientY }: MouseEvent): { x: number; y: number } {
  const box = svg.getBoundingClientRect();
  const perPx = svg.viewBox.baseVal.width / box.width;
  return { x: (clientX - box.left) * perPx, y: (clientY - box.top) * perPx };
}
