<script setup lang="ts">
import { computed } from 'vue'
import { InputNumber, Modal } from 'ant-design-vue'
import FaceFields from './FaceFields.vue'
import type { CardDesign } from '@/api/types'
import { copiedFace, ID_1, sizeOf, type DesignDocument, type FaceDocument } from '@/logic/design'

/** How large the card is, and who has which face of it. */
const props = defineProps<{ design: CardDesign; document: DesignDocument }>()
const emit = defineEmits<{ close: []; put: [next: DesignDocument] }>()

const SIZES = [
  ['width', 'Width', 30, 300],
  ['height', 'Height', 30, 300],
  ['margin', 'Margin', 0, 20],
] as const
const size = computed(() => sizeOf(props.document))
const isUsual = computed(() => size.value.width === ID_1.width && size.value.height === ID_1.height)
const setSize = (name: string, given: unknown) =>
  typeof given === 'number' &&
  emit('put', { ...props.document, size: { ...props.document.size, [name]: given } })
const faces = (list: FaceDocument[]) => emit('put', { ...props.document, faces: list })
const put = (face: FaceDocument) =>
  faces(props.document.faces.map((one) => (one.name === face.name ? face : one)))
const drop = (name: string) => faces(props.document.faces.filter((one) => one.name !== name))
/** The fields of a face's roster, also of one that is not kept yet. */
const fieldsOf = (face: FaceDocument) =>
  props.design.faces.find((one) => one.roster === face.roster)?.fields ?? []
const rosterOf = (face: FaceDocument) =>
  props.design.faces.find((one) => one.roster === face.roster)?.roster_title ?? face.roster
</script>

<template>
  <Modal
    open
    destroy-on-close
    title="Who and how large"
    :footer="null"
    :width="640"
    @cancel="emit('close')"
  >
    <h3>The card</h3>
    <p class="row">
      <label v-for="[name, words, least, most] in SIZES" :key="name"
        >{{ words }}
        <InputNumber
          :value="size[name]"
          :min="least"
          :max="most"
          :step="0.1"
          :aria-label="`${words} in mm`"
          @change="(given) => setSize(name, given)"
        />
        mm</label
      >
      <span v-if="isUsual" class="soft">the usual size, ID-1</span>
    </p>
    <p class="soft">The first face that fits somebody is theirs.</p>
    <div v-for="face in document.faces" :key="face.name" class="face">
      <h3>{{ face.title || face.name }}: {{ rosterOf(face) }}</h3>
      <FaceFields :face="face" :fields="fieldsOf(face)" @put="put" />
      <p class="row">
        <button class="link" @click="emit('put', copiedFace(document, face.name))">
          Copy it for some of them</button
        ><button v-if="document.faces.length > 1" class="link" @click="drop(face.name)">
          Drop this face
        </button>
      </p>
    </div>
    <p class="row"><button class="btn" @click="emit('close')">Close</button></p>
  </Modal>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  align-items: center;
  margin: 6px 0;
}
.row .link {
  min-height: 24px;
}
.face {
  border-top: 1px solid var(--line);
  padding-top: 8px;
  margin-top: 8px;
}
:deep(.ant-input-number) {
  width: 80px;
}
</style>
