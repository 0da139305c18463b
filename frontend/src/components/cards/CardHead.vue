<script setup lang="ts">
import { computed } from 'vue'
import type { CardDesign } from '@/api/types'
import { canMake, needOne, sizeOf, type DesignDocument } from '@/logic/design'
import { STAGES } from '@/logic/stages'
import { count, counted, moment } from '@/logic/words'

const props = defineProps<{ design: CardDesign; page: string }>()
const emit = defineEmits<{ make: [] }>()

const document = computed(() => props.design.document as unknown as DesignDocument)
const now = new Date()
const size = computed(() => sizeOf(document.value))
const hasBack = computed(() => document.value.faces.some((face) => face.back?.length))
const makes = computed(() => canMake(props.design.counts))
const low = computed(() => props.design.left.filter((range) => range.is_low))
const left = computed(() => props.design.left.reduce((sum, range) => sum + range.left, 0))
const pages = computed(() => [
  {
    path: 'needed',
    title: STAGES.needed,
    badge: count(needOne(props.design.counts)),
    bad: needOne(props.design.counts) > 0,
  },
  { path: 'design', title: STAGES.design, badge: `version ${props.design.version}`, bad: false },
  { path: 'runs', title: STAGES.runs, badge: count(props.design.runs), bad: false },
  {
    path: 'ranges',
    title: STAGES.ranges,
    badge: low.value[0]?.facility
      ? `${count(low.value[0].left)} left of facility ${low.value[0].facility}`
      : `${count(low.value[0]?.left ?? left.value)} left`,
    bad: low.value.length > 0 || !left.value,
  },
])
</script>

<template>
  <div class="title">
    <div>
      <h1>{{ design.title }} → {{ design.register_title }}</h1>
      <p class="soft">
        for {{ design.faces.map((face) => face.roster_title).join(' and ') }} · {{ size.width }} ×
        {{ size.height }} mm, {{ hasBack ? 'front and back' : 'front' }} · version
        {{ design.version }}, since {{ moment(design.since, now) }}
      </p>
    </div>
    <span class="grow" />
    <slot />
    <button
      v-if="design.may_change"
      class="btn main no-print"
      :disabled="!makes"
      @click="emit('make')"
    >
      {{ makes ? `Make ${counted(makes, 'card')}` : 'No card can be made' }}
    </button>
  </div>
  <nav class="stages no-print" aria-label="Parts of the card design">
    <RouterLink
      v-for="one in pages"
      :key="one.path"
      :to="`/cards/${design.name}/${one.path}`"
      :class="{ on: page === one.path }"
      :aria-current="page === one.path ? 'page' : undefined"
      >{{ one.title }} <i :class="{ n: one.bad }">{{ one.badge }}</i></RouterLink
    >
  </nav>
</template>

<style scoped src="../head.css"></style>
