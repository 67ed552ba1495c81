// What may be chosen for a link: named once by the server, kept for the session.
import { useQuery } from '@tanstack/vue-query'
import { computed, type ComputedRef } from 'vue'

import { api, ask } from '../api/client'
import type { components } from '../api/schema'
import { session } from './session'

export type Choices = components['schemas']['ChoicesOut']
export type Choice = components['schemas']['ChoiceOut']
const NONE: Choices = {
  grades: [],
  builds: [],
  powers: [],
  rates: [],
  audio: [],
  encodings: [],
  slices: [],
  derived: [],
}

export function useChoices(): ComputedRef<Choices> {
  const { data } = useQuery({
    queryKey: ['choices'],
    queryFn: () => ask(api.GET('/api/v1/scratch/choices')),
    staleTime: Infinity,
    enabled: computed(() => session.value !== null),
  })
  return computed(() => data.value ?? NONE)
}

// A list with a value that is not on it (typed, or from a file) added under its own code.
export const withValue = (list: Choice[], value: string) =>
  list.some((c) => c.id === value) ? list : [...list, { id: value, name: value }]
