<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import FileChooser from '@/components/FileChooser.vue'
import VersionTable from '@/components/VersionTable.vue'
import { layCard, listVersions } from '@/api/cards'
import type { CardDesign, CardVersion } from '@/api/types'
import { readDesign, type DesignDocument } from '@/logic/design'

/**
 * Earlier versions, and designs in files: one is taken as it was, looked at, and kept as a new
 * version or left.
 */
const props = defineProps<{ design: CardDesign }>()
const emit = defineEmits<{ close: []; take: [document: DesignDocument] }>()

const versions = ref<CardVersion[] | null>(null)
const problem = ref('')
onMounted(async () => {
  try {
    versions.value = await listVersions(props.design.name)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})
/** Take a design from a file, if it can be: what is wrong in it is said, and nothing is taken. */
async function read(file: File): Promise<void> {
  problem.value = ''
  try {
    const found = { ...readDesign(await file.text()), name: props.design.name }
    await layCard(props.design.name, found, null, '')
    emit('take', found)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <Modal open destroy-on-close title="Versions" :footer="null" :width="560" @cancel="emit('close')">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <VersionTable
      v-if="versions"
      :versions="versions"
      :in-force="design.version"
      :file="design.name"
      :may="design.may_change"
      @take="(document) => emit('take', document as unknown as DesignDocument)"
    />
    <p v-else-if="!problem" class="soft" role="status">Looking for them …</p>
    <p v-if="design.may_change" class="file">
      <FileChooser @chosen="read">Take one from a JSON file …</FileChooser>
    </p>
  </Modal>
</template>

<style scoped>
.file {
  margin-top: 12px;
}
</style>
