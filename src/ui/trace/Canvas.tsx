'use client';
import { useEffect, useRef, useState, type CanvasHTMLAttributes, type RefObject } from 'react';

type Draw = (context: CanvasRenderingContext2D, width: number, height: number) => void;

interface Props extends CanvasHTMLAttributes<HTMLCanvasElement> {
  /** Draws the whole picture in CSS pixels; called when it or the size changes. Memoise it. */
  draw: Draw;
  canvasRef?: RefObject<HTMLCanvasElement | null>;
}

/** A canvas that fills its parent, sharp on every screen. */
export function Canvas({ draw, canvasRef, className, ...rest }: Props) {
  const inner = useRef<HTMLCanvasElement>(null);
  const own = canvasRef ?? inner;
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const parent = own.current!.parentElement!;
    const observer = new ResizeObserver(() =>
      setSize({ width: parent.clientWidth, height: parent.clientHeight }),
    );
    observer.observe(parent);
    return () => observer.disconnect();
  }, [own]);
  useEffect(() => {
    const canvas = own.current;
    const context = canvas?.getContext('2d');
    if (!canvas || !context || size.width === 0 || size.height === 0) return;
    const density = window.devicePixelRatio || 1;
    // Setting a size, even the same one, makes a new picture in memory.
    const [width, height] = [Math.round(size.width * density), Math.round(size.height * density)];
    if (canvas.width !== width) canvas.width = width;
    if (canvas.height !== height) canvas.height = height;
    context.setTransform(density, 0, 0, density, 0, 0);
    context.clearRect(0, 0, size.width, size.height);
    draw(context, size.width, size.height);
  }, [draw, size, own]);
  return (
    <canvas
      ref={own}
      className={className}
      style={{ width: size.width, height: size.height, display: 'block' }}
      {...rest}
    />
  );
}
