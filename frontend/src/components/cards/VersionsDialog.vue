<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import { listVersions } from '@/api/cards'
import type { CardDesign, CardVersion } from '@/api/types'
import type { DesignDocument } from '@/logic/design'
import { moment } from '@/logic/words'

/** Earlier versions: one is taken as it was, looked at, and kept as a new one or left. */
const props = defineProps<{ design: CardDesign }>()
const emit = defineEmits<{ close: []; take: [document: DesignDocument] }>()

const versions = ref<CardVersion[] | null>(null)
const problem = ref('')
const now = new Date()
onMounted(async () => {
  try {
    versions.value = await listVersions(props.design.name)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
const href = (version: CardVersion) =>
  `data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(version.document, null, 2))}`
const take = (version: CardVersion) => emit('take', version.document as unknown as DesignDocument)
</script>

<template>
  <Modal open destroy-on-close title="Versions" :footer="null" :width="560" @cancel="emit('close')">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <table v-if="versions" class="list">
      <thead>
        <tr>
          <th>Version</th>
          <th>Kept</th>
          <th />
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="version in versions" :key="version.number">
          <td>{{ version.number }}</td>
          <td>{{ moment(version.at, now) }}{{ version.by && `, ${version.by}` }}</td>
          <td>
            <a
              :href="href(version)"
              :download="`${design.name} ${version.number}.json`"
              :aria-label="`Version ${version.number} as JSON`"
              >JSON</a
            >
          </td>
          <td>
            <span v-if="version.number === design.version" class="soft">in force</span
            ><button
              v-else
              class="link"
              :aria-label="`Take version ${version.number} up again`"
              @click="take(version)"
            >
              Take it up again
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="!problem" class="soft" role="status">Looking for them …</p>
  </Modal>
</template>
