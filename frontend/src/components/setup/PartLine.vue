<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import PartDialog from '@/components/intake/PartDialog.vue'
import type { Condition, Roster } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { fieldsIn, partWords } from '@/logic/parts'

/** Whether somebody has all of a roster or a part of it, and which. */
const props = defineProps<{ roster: Roster; name: string }>()
const part = defineModel<Condition | null>({ required: true })

const catalog = useCatalog()
const choosing = ref(false)
const field = (name: string) => props.roster.fields.find((one) => one.name === name)
watch(
  part,
  (when) => {
    for (const name of when ? fieldsIn(when) : [])
      void catalog.loadList(field(name)?.code_list ?? '').catch(() => undefined)
  },
  { immediate: true },
)
const words = computed(() =>
  part.value
    ? partWords(
        part.value,
        (name) => field(name)?.title ?? name,
        (name, text) => catalog.label(field(name)?.code_list ?? '', text) || text,
      )
    : '',
)
const meaning = computed(
  () =>
    `They see, search, take out and alter those of ${props.roster.title} for whom this holds, and ` +
    'nobody else. Nothing that was made of all of it is there for them: no files, receipts or ' +
    'submissions.',
)
function choose(when: Condition): void {
  part.value = when
  choosing.value = false
}
</script>

<template>
  <p class="part">
    <template v-if="part">
      only where <b>{{ words }}</b> ·
      <button type="button" class="link" @click="choosing = true">another part</button> ·
      <button type="button" class="link" @click="part = null">all of it</button>
    </template>
    <template v-else>
      all of it ·
      <button type="button" class="link" @click="choosing = true">only a part</button>
    </template>
    <PartDialog
      :open="choosing"
      :title="`The part of ${roster.title} that ${name || 'they'} may see`"
      :words="meaning"
      act="Only these"
      :roster="roster.name"
      :fields="roster.fields"
      :part="part"
      @done="choose"
      @close="choosing = false"
    />
  </p>
</template>

<style scoped>
.part {
  width: 100%;
  padding: 0 0 6px 124px;
  font-size: 13px;
  color: var(--ink2);
}
.part b {
  color: var(--ink);
}
</style>
