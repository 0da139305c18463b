<script setup lang="ts">
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { FieldDocument } from '@/api/types'
import { byTitle } from '@/logic/choices'
import type { Membership } from '@/logic/passing'

/** The fields of which the values are groups there. */
defineProps<{ fields: FieldDocument[] }>()
const groups = defineModel<Membership[]>({ required: true })

const setGroup = (place: number, next: Partial<Membership>) =>
  (groups.value = groups.value.map((one, at) => (at === place ? { ...one, ...next } : one)))
const ticked = (event: Event) => (event.target as HTMLInputElement).checked
</script>

<template>
  <p v-for="(group, place) in groups" :key="place" class="group">
    groups from
    <ChooseOne
      :model-value="group.from"
      :options="byTitle(fields)"
      :label="`Groups ${place + 1} from`"
      @update:model-value="(from) => setGroup(place, { from: from ?? '' })"
    />
    <label
      ><input
        type="checkbox"
        :checked="group.is_privilege ?? false"
        @change="(event) => setGroup(place, { is_privilege: ticked(event) })"
      />
      these are privileges</label
    ><button
      class="btn"
      :aria-label="`Remove groups ${place + 1}`"
      @click="groups = groups.filter((_, at) => at !== place)"
    >
      ×
    </button>
  </p>
  <button class="btn" @click="groups = [...groups, { from: fields[0]?.name ?? '' }]">
    + groups from a field
  </button>
</template>

<style scoped>
.group {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 6px 0;
}
</style>
