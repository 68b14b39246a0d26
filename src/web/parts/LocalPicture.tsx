import { useEffect, useRef } from 'react';

/** A picture that is still on this machine. */
export function LocalPicture({
  data,
  alt,
  className,
}: {
  data: Blob;
  alt: string;
  className: string;
}) {
  const image = useRef<HTMLImageElement>(null);
  useEffect(() => {
    const url = URL.createObjectURL(data);
    if (image.current) image.current.src = url;
    return () => URL.revokeObjectURL(url);
  }, [data]);
  return <img ref={image} alt={alt} className={className} />;
}
