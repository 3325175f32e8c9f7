// A viewer inside an element, for as long as that is there.
import { useEffect, useState, type RefObject } from 'react';
import { createDeepView, type DeepView } from './deepView';

export function useView(host: RefObject<HTMLDivElement | null>): DeepView | null {
  const [deep, setDeep] = useState<DeepView | null>(null);
  useEffect(() => {
    const view = createDeepView(host.current!);
    setDeep(view);
    return () => view.destroy();
  }, [host]);
  return deep;
}
