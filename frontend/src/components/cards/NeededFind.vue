<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { listShortlists } from '@/api/shortlists'
import type { CardDesign, Shortlist } from '@/api/types'
import { NEEDS, TAKE_IN } from '@/logic/design'

/** Who is shown: by words, by where they stand, by a shortlist. */
const props = defineProps<{ design: CardDesign; need: string }>()
const emit = defineEmits<{ need: [key: string | null] }>()
const text = defineModel<string>('text', { required: true })
const shortlist = defineModel<number>('shortlist', { required: true })

const lists = ref<Shortlist[]>([])
const states = [
  { value: '', label: 'everybody' },
  ...[...NEEDS, TAKE_IN].map((one) => ({ value: one.key, label: one.word })),
]
const choices = computed(() => [
  { value: 0, label: 'of no shortlist' },
  ...lists.value.map((one) => ({ value: one.id, label: one.title })),
])
onMounted(async () => {
  const rosters = [...new Set(props.design.faces.map((face) => face.roster))]
  // without them it is found by words
  const found = await Promise.all(rosters.map((name) => listShortlists(name).catch(() => [])))
  lists.value = found.flat()
})
</script>

<template>
  <input
    v-model="text"
    class="box"
    placeholder="Name or number"
    aria-label="Find somebody by name, number or card"
  />
  <ChooseOne
    :model-value="need"
    :options="states"
    label="Where they stand"
    @update:model-value="(key) => emit('need', key)"
  />
  <ChooseOne
    v-if="lists.length"
    :model-value="shortlist"
    :options="choices"
    label="Of which shortlist"
    @update:model-value="(id) => (shortlist = id ?? 0)"
  />
</template>
