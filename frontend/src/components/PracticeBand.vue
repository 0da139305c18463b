<script setup lang="ts">
/** What cannot be missed: nobody here is real. On paper too. */
</script>

<template>
  <p class="band" role="note" aria-label="Practice copy">
    <span>Practice copy: everybody here is made up, and nothing counts</span>
  </p>
</template>

<style scoped>
.band {
  flex: none;
  height: 22px;
  text-align: center;
  font-size: 13px;
  line-height: 22px;
  background: repeating-linear-gradient(135deg, #15212a 0 9px, #f4d35e 9px 18px);
}
span {
  display: inline-block;
  padding: 0 14px;
  background: #15212a;
  color: #fff;
  white-space: nowrap;
}
@media print {
  .band {
    print-color-adjust: exact;
  }
}
</style>
