<script setup lang="ts">
import { moment } from '@/logic/words'

/** Versions of something, the newest first: one can be taken up again, where that is given. */
interface Version {
  number: number
  at: string
  by: string
  document: Record<string, unknown>
}
defineProps<{ versions: Version[]; inForce: number; file: string; may: boolean }>()
const emit = defineEmits<{ take: [document: Record<string, unknown>] }>()
const now = new Date()
const href = (version: Version) =>
  `data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(version.document, null, 2))}`
</script>

<template>
  <table class="list">
    <thead>
      <tr>
        <th>Version</th>
        <th>Kept</th>
        <th><span class="unseen">As a file</span></th>
        <th><span class="unseen">What can be done</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="version in versions" :key="version.number">
        <td>{{ version.number }}</td>
        <td>{{ moment(version.at, now) }}{{ version.by && `, ${version.by}` }}</td>
        <td>
          <a
            :href="href(version)"
            :download="`${file} ${version.number}.json`"
            :aria-label="`Version ${version.number} as JSON`"
            >JSON</a
          >
        </td>
        <td>
          <span v-if="version.number === inForce" class="soft">in force</span
          ><button
            v-else-if="may"
            class="link"
            :aria-label="`Take version ${version.number} up again`"
            @click="emit('take', version.document)"
          >
            Take it up again
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>
