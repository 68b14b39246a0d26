import { useEffect, useState } from 'react';

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
  const [url, setUrl] = useState<string>();
  useEffect(() => {
    const made = URL.createObjectURL(data);
    setUrl(made);
    return () => URL.revokeObjectURL(made);
  }, [data]);
  return <img src={url} alt={alt} className={className} />;
}
