// The unit in which each field was typed last, kept in the browser.
import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import type { LengthUnit } from '@blendrak/core/plan';

interface UnitMemory {
  readonly units: Readonly<Record<string, LengthUnit>>;
  remember(field: string, unit: LengthUnit): void;
}

export const useUnits = create<UnitMemory>()(
  persist(
    (set) => ({
      units: {},
      remember: (field, unit) => set((s) => ({ units: { ...s.units, [field]: unit } })),
    }),
    { name: 'blendrak-units' },
  ),
);
