<script setup lang="ts">
import { ref } from 'vue'
import ChooseSeveral from '@/components/controls/ChooseSeveral.vue'
import { joined, parted } from '@/logic/knownBy'

/** Lists of fields, each on a line; one without fields goes. */
const props = defineProps<{
  title: string
  said: string
  add: string
  sets: string[][]
  fields: { value: string; label: string }[]
  locked: boolean
}>()
const emit = defineEmits<{ put: [sets: string[][]] }>()

/** A line that has no field yet. */
const isAdding = ref(false)
function put(place: number, text: string): void {
  const sets = props.sets.map((set) => [...set])
  sets[place] = parted(text)
  if (place === props.sets.length) isAdding.value = false
  emit(
    'put',
    sets.filter((set) => set.length),
  )
}
</script>

<template>
  <section>
    <h2>{{ title }}</h2>
    <p class="soft">{{ said }}</p>
    <p v-for="place in sets.length + (isAdding ? 1 : 0)" :key="place" class="set">
      <ChooseSeveral
        :model-value="joined(sets[place - 1] ?? [])"
        :options="fields"
        :disabled="locked"
        :label="`${title}, ${place}`"
        placeholder="choose fields"
        @update:model-value="(text) => put(place - 1, text)"
      />
      <button
        v-if="!locked"
        class="plain"
        :aria-label="`Remove ${title.toLowerCase()}, ${place}`"
        @click="place > sets.length ? (isAdding = false) : put(place - 1, '')"
      >
        Remove
      </button>
    </p>
    <button v-if="!locked && !isAdding" class="btn" @click="isAdding = true">{{ add }}</button>
    <p v-if="locked && !sets.length" class="soft">None.</p>
  </section>
</template>

<style scoped>
.set {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-bottom: 6px;
}
</style>
