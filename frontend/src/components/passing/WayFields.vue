<script setup lang="ts">
import { computed } from 'vue'
import FileGoes from './FileGoes.vue'
import LdifFields from './LdifFields.vue'
import ScimFields from './ScimFields.vue'
import SchoolFields from './SchoolFields.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { FORMATS, type Way } from '@/logic/passing'
import { ofPairs } from '@/logic/choices'

/** How a destination is told: where it answers, or how its file is laid out. */
const way = defineModel<Way>({ required: true })
defineProps<{ name?: string }>()

const SEPARATORS = ofPairs([
  [',', 'commas'],
  [';', 'semicolons'],
  ['\t', 'tabs'],
  ['|', 'bars'],
] as const)
const ENCODINGS = ofPairs([
  ['utf-8', 'UTF-8'],
  ['utf-8-bom', 'UTF-8 with its mark'],
  ['windows-1252', 'Windows-1252'],
] as const)
const WRITES = ofPairs([
  ['refused', 'is refused: they read alone'],
  ['proposed', 'comes as an intake, to be looked at'],
] as const)
const set = (next: Partial<Way>) => (way.value = { ...way.value, ...next })
const typed = (event: Event) => (event.target as HTMLInputElement).value
const isText = computed(() => ['csv', 'fixed width'].includes(way.value.format ?? 'csv'))
</script>

<template>
  <template v-if="way.kind === 'file'">
    <p class="line">
      <span>Format</span
      ><ChooseOne
        :model-value="way.format ?? 'csv'"
        :options="FORMATS"
        label="Format"
        @update:model-value="(format) => set({ format: format ?? 'csv' })"
      />
    </p>
    <p v-if="(way.format ?? 'csv') === 'csv'" class="line">
      <span>Between cells</span
      ><ChooseOne
        :model-value="way.separator ?? ','"
        :options="SEPARATORS"
        label="Between cells"
        @update:model-value="(separator) => set({ separator: separator ?? ',' })"
      />
    </p>
    <p v-if="isText" class="line">
      <span>Letters</span
      ><ChooseOne
        :model-value="way.encoding ?? 'utf-8'"
        :options="ENCODINGS"
        label="Letters"
        @update:model-value="(encoding) => set({ encoding: encoding ?? 'utf-8' })"
      />
    </p>
    <LdifFields v-if="way.format === 'ldif'" v-model="way" />
    <SchoolFields v-if="way.format === 'oneroster'" v-model="way" />
    <label class="line"
      ><span>File name</span
      ><input
        class="box"
        :value="way.file_name ?? '{day}'"
        maxlength="120"
        title="{day} and {time} are those of its making"
        @change="(event) => set({ file_name: typed(event) || '{day}' })"
    /></label>
    <FileGoes v-model="way" :name="name" />
  </template>
  <p v-else-if="way.kind === 'asked'" class="line">
    <span>What they write</span
    ><ChooseOne
      :model-value="way.writes ?? 'refused'"
      :options="WRITES"
      label="What they write"
      @update:model-value="(writes) => set({ writes: writes ?? 'refused' })"
    />
  </p>
  <template v-else>
    <label class="line"
      ><span>Where it answers</span
      ><input
        class="box"
        :value="way.address ?? ''"
        :placeholder="
          way.kind === 'called'
            ? 'https://program.school.example/changes'
            : 'https://directory.school.example/scim/v2'
        "
        maxlength="400"
        @change="(event) => set({ address: typed(event).trim() })"
    /></label>
    <ScimFields v-if="way.kind === 'scim'" v-model="way" />
  </template>
</template>

<style scoped src="./lines.css"></style>
