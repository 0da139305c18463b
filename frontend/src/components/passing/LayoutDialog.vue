<script setup lang="ts">
import { computed } from 'vue'
import { Modal } from 'ant-design-vue'
import ShareFields from './ShareFields.vue'
import WayFields from './WayFields.vue'
import WhenFields from './WhenFields.vue'
import FileChooser from '@/components/FileChooser.vue'
import TextBox from '@/components/TextBox.vue'
import type { Destination, FieldDocument } from '@/api/types'
import { useLayout } from '@/composables/useLayout'
import type { DestinationDocument, Share } from '@/logic/passing'

/** What a destination gets, how and when; kept as another version. */
const props = defineProps<{ destination: Destination; taken?: DestinationDocument | null }>()
const emit = defineEmits<{ close: [] }>()

const { document, seen, busy, problem, read, keep } = useLayout(
  props.destination,
  props.taken ?? null,
)
const href = computed(
  () =>
    `data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(document.value, null, 2))}`,
)
const about = (share: Share) => props.destination.shares.find((one) => one.roster === share.roster)
const fieldsOf = (share: Share) => (about(share)?.fields ?? []) as unknown as FieldDocument[]
const set = (next: Partial<DestinationDocument>) =>
  (document.value = { ...document.value, ...next })
const putShare = (place: number, share: Share) =>
  set({ shares: document.value.shares.map((one, at) => (at === place ? share : one)) })

async function done(): Promise<void> {
  if (await keep()) emit('close')
}
</script>

<template>
  <Modal
    open
    destroy-on-close
    :title="`What ${destination.title} gets`"
    :footer="null"
    :width="860"
    @cancel="!busy && emit('close')"
  >
    <p class="line">
      <span>It is called</span
      ><TextBox
        class="box"
        :model-value="document.title"
        maxlength="80"
        aria-label="It is called"
        @update:model-value="(title) => set({ title: String(title) })"
      />
    </p>
    <WayFields
      :model-value="document.way"
      :name="destination.name"
      @update:model-value="(way) => set({ way })"
    />
    <WhenFields
      :model-value="document.when ?? { kind: 'by hand' }"
      @update:model-value="(when) => set({ when })"
    />
    <ShareFields
      v-for="(share, place) in document.shares"
      :key="share.roster"
      :model-value="share"
      :title="about(share)?.title ?? share.roster"
      :fields="fieldsOf(share)"
      :way="document.way"
      @update:model-value="(next) => putShare(place, next)"
    />
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p class="do">
      <button class="btn main" :disabled="busy" @click="done">
        {{ busy ? 'Keeping it …' : `Keep as version ${seen + 1}` }}</button><button
        class="btn"
        :disabled="busy"
        @click="emit('close')"
      >
        Cancel
      </button>
      <span class="grow" />
      <a :href="href" :download="`${destination.name}.json`">As JSON</a>
      <FileChooser @chosen="read">Take a JSON file …</FileChooser>
    </p>
  </Modal>
</template>

<style scoped src="./lines.css"></style>
