<script setup lang="ts">
import { RouterLink } from 'vue-router'
</script>

<template>
  <section class="p-8">
    <h1>Nothing at this address</h1>
    <p class="mt-2"><RouterLink to="/bench" class="link">Back to the bench</RouterLink></p>
  </section>
</template>
