<script setup lang="ts">
import { computed, ref } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { useCatalog } from '@/composables/useCatalog'
import { makeReference, type Reference } from '@/logic/knownBy'

/** A reference that is put together: a field here, a roster, a field there. */
const props = defineProps<{ fields: { value: string; label: string }[]; roster: string }>()
const emit = defineEmits<{ made: [reference: Reference]; cancel: [] }>()

const catalog = useCatalog()
const field = ref<string | null>(null)
const there = ref<string | null>(null)
const rosters = computed(() =>
  catalog.state.rosters.map((one) => ({
    value: one.name,
    label: one.name === props.roster ? `this roster (${one.title})` : one.title,
  })),
)
const targets = computed(() =>
  (catalog.roster(there.value ?? '')?.fields ?? []).map((one) => ({
    value: one.name,
    label: one.title,
  })),
)
function finish(target: string | null): void {
  if (!field.value || !there.value || !target) return
  const resource = there.value === props.roster ? '' : there.value
  emit('made', makeReference([field.value], resource, [target], false))
}
</script>

<template>
  <p class="begun">
    <ChooseOne v-model="field" :options="fields" label="Field that refers" placeholder="field" />
    is
    <ChooseOne v-model="there" :options="rosters" label="Roster" placeholder="of which roster" />
    <ChooseOne
      v-if="field && there"
      :model-value="null"
      :options="targets"
      label="Field there"
      placeholder="which field there"
      @update:model-value="finish"
    />
    <button class="plain" @click="emit('cancel')">Cancel</button>
  </p>
</template>

<style scoped>
.begun {
  display: flex;
  gap: 12px;
  align-items: center;
  margin-bottom: 6px;
}
.begun :deep(.ant-select) {
  min-width: 180px;
}
</style>
