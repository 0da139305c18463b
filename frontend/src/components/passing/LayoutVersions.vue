<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import VersionTable from '@/components/VersionTable.vue'
import { listDestinationVersions } from '@/api/passing'
import type { Destination, DestinationVersion } from '@/api/types'
import type { DestinationDocument } from '@/logic/passing'

/** What a destination got before: a version is taken up again, looked at, and kept or left. */
const props = defineProps<{ destination: Destination }>()
const emit = defineEmits<{ close: []; take: [document: DestinationDocument] }>()

const versions = ref<DestinationVersion[] | null>(null)
const problem = ref('')
onMounted(async () => {
  try {
    versions.value = await listDestinationVersions(props.destination.name)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
</script>

<template>
  <Modal open destroy-on-close title="Versions" :footer="null" :width="560" @cancel="emit('close')">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <VersionTable
      v-if="versions"
      :versions="versions"
      :in-force="destination.version"
      :file="destination.name"
      :may="destination.may_change"
      @take="(document) => emit('take', document as unknown as DestinationDocument)"
    />
    <p v-else-if="!problem" class="soft" role="status">Looking for them …</p>
  </Modal>
</template>
